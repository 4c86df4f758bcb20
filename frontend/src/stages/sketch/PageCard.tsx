import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { Card, Choice, ColourField, Switch } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";

/** Page sizes at 150 px an inch for paper (ISO 216), and the usual screens. */
const SIZES: [string, number, number][] = [
  [tr("3:2 page"), 2400, 1600],
  ["A4", 1754, 1240],
  ["A3", 2480, 1754],
  ["A2", 3508, 2480],
  [tr("16:9 screen"), 2560, 1440],
  [tr("4:3 screen"), 2048, 1536],
  [tr("Square"), 2000, 2000],
];

/** The page's size and paper. What is drawn stays where it is. */
export function PageCard(props: { sheet: Shapes["SheetOutline"]; edit: Edit }) {
  const { width, height, paper, ground, border } = props.sheet;
  const set = (fields: Partial<Shapes["SetPage"]>) => props.edit({ kind: "set_page", ...fields });
  const known =
    SIZES.find(([, w, h]) => w === width && h === height) ?? SIZES.find(([, w, h]) => w === height && h === width);
  return (
    <Card title={tr("Page")} aside={known?.[0] ?? ""}>
      <label className="flex items-center justify-between gap-3 text-quiet">
        {tr("Size")}
        <select
          aria-label={tr("Page size")}
          value={known?.[0] ?? ""}
          onChange={(event) => {
            const chosen = SIZES.find(([name]) => name === event.target.value);
            if (chosen) set({ width: chosen[1], height: chosen[2] });
          }}
          className="border border-vein bg-raised px-1 text-ink"
        >
          {!known && <option value="">{tr("as typed")}</option>}
          {SIZES.map(([name]) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <NumberField
        label={tr("Wide")}
        value={width}
        min={64}
        max={12000}
        unit="px"
        onChange={(wide) => set({ width: Math.round(wide), height })}
      />
      <NumberField
        label={tr("Tall")}
        value={height}
        min={64}
        max={12000}
        unit="px"
        onChange={(tall) => set({ width, height: Math.round(tall) })}
      />
      <ColourField label={tr("Paper")} value={paper.toLowerCase()} onChange={(colour) => set({ paper: colour })} />
      <Choice
        label={tr("Paper goes over")}
        options={["plain", "linear", "radial"]}
        value={ground?.way ?? "plain"}
        onChange={(way) =>
          set({
            ground:
              way === "plain" ? "plain" : { way, colour: ground?.colour ?? "#d9d4ca", angle: ground?.angle ?? 90 },
          })
        }
      />
      {ground && (
        <>
          <ColourField
            label={tr("Goes over to")}
            value={ground.colour.toLowerCase()}
            onChange={(colour) => set({ ground: { ...ground, colour } })}
          />
          {ground.way === "linear" && (
            <NumberField
              label={tr("Way it goes")}
              value={ground.angle ?? 90}
              unit="°"
              onChange={(angle) => set({ ground: { ...ground, angle } })}
            />
          )}
        </>
      )}
      <Switch
        word={tr("Border")}
        label={tr("Border")}
        on={!!border}
        onChange={() => set({ border: border ? "none" : { width: 3, inset: 48, colour: "#20282b" } })}
      />
      {border && (
        <>
          <NumberField
            label={tr("Border wide")}
            value={border.width ?? 3}
            digits={1}
            min={0.5}
            max={200}
            unit="px"
            onChange={(wide) => set({ border: { ...border, width: wide } })}
          />
          <NumberField
            label={tr("Border inside the edge")}
            value={border.inset ?? 40}
            min={0}
            max={2000}
            unit="px"
            onChange={(inset) => set({ border: { ...border, inset } })}
          />
          <ColourField
            label={tr("Border colour")}
            value={(border.colour ?? "#20282b").toLowerCase()}
            onChange={(colour) => set({ border: { ...border, colour } })}
          />
        </>
      )}
    </Card>
  );
}
