import { answer, api, type Shapes } from "../../api/client";
import { at, type Edit, queries, refresh, useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import { Button, Card, Switch, TextField } from "../../ui/controls";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";
import { useSketch } from "./store";

/** The project's sheets: this one's name, whether it is the chosen direction, the others. */
export function SheetsCard(props: {
  project: string;
  sheets: Shapes["DocumentShape"][];
  current: Shapes["DocumentShape"];
  sheet: Shapes["SheetOutline"];
  edit: Edit;
}) {
  const { project, sheets, current, sheet: shown, edit } = props;
  const set = useSketch((sketch) => sketch.set);
  const { openSheet } = useBench();
  const work = useWork();
  const rename = async (name: string) => {
    await work(() =>
      answer(
        api.POST("/api/projects/{project}/documents/{document}/name", { ...at(project, current.id), body: { name } }),
      ),
    );
    await queries.invalidateQueries({ queryKey: ["project", project] });
    await refresh(current.id);
  };
  return (
    <Card title={tr("Sheets")} aside={`${sheets.length}`}>
      <Switch
        word={tr("The direction gone on with")}
        label={tr("Chosen direction")}
        on={shown.chosen}
        onChange={() => edit({ kind: "choose", chosen: !shown.chosen })}
      />
      <TextField label={tr("Name of this sheet")} hideLabel value={current.name} onChange={rename} />
      <OneStop className="-mx-2.5 flex flex-col items-start">
        {sheets
          .filter((sheet) => sheet.id !== current.id)
          .map((sheet) => (
            <Button key={sheet.id} weight="quiet" onClick={() => openSheet(sheet.id)}>
              {sheet.name}
            </Button>
          ))}
      </OneStop>
      <Button onClick={() => set({ overview: true })}>{tr("See them all")}</Button>
    </Card>
  );
}
