import { answer, api, type Shapes } from "../../../api/client";
import { useWork } from "../../../api/queries";
import { carries, putDown } from "../../../bench/carrying";
import { type Doing, DoingWords, menuOf } from "../../../bench/Doings";
import { Card, Row } from "../../../ui/controls";
import { useReading } from "../../../ui/numbers/reading";
import { OneStop } from "../../../ui/OneStop";
import { Picture, pictureOf } from "../../../ui/Picture";
import { save } from "../../../ui/save";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import { useStudioStage } from "../store";

type Take = Shapes["TakeShape"];

/** The takes, newest first. */
export function TakesCard(props: StudioProps) {
  const { project, documents, takes } = props;
  const { take: chosen, set } = useStudioStage();
  const read = useReading();
  const work = useWork();
  const post = (take: Take, way: "cancel" | "resume") =>
    work(async () => {
      await answer(
        api.POST(`/api/projects/{project}/takes/{take}/${way}`, { params: { path: { project, take: take.id } } }),
      );
    });
  const put = (take: Take, stage: "Review" | "Sketch") => () =>
    work(() => putDown(project, documents, stage, { kind: "take", id: take.id, name: take.name }));
  const doingsOf = (take: Take): Doing[] => [
    ...(take.state === "queued" || take.state === "developing"
      ? [{ name: tr("Cancel"), run: () => post(take, "cancel") }]
      : []),
    ...(take.state === "cancelled" || take.state === "failed"
      ? [{ name: tr("Go on"), run: () => post(take, "resume") }]
      : []),
    ...(take.picture
      ? [
          { name: tr("Hang on the board"), run: put(take, "Review") },
          { name: tr("On to the sheet"), run: put(take, "Sketch") },
          {
            name: tr("PNG"),
            label: tr`Save ${take.name} as PNG`,
            run: () => save(pictureOf(project, take), `${take.name} ${take.quality}.png`),
          },
        ]
      : []),
  ];
  return (
    <Card title={tr("Takes")} aside={takes.length ? tr("newest first") : tr("none yet")}>
      <OneStop as="ul" className="space-y-2">
        {[...takes].reverse().map((take) => (
          <li
            key={take.id}
            data-row
            {...(take.picture ? carries({ kind: "take", id: take.id, name: take.name }) : {})}
            {...menuOf(doingsOf(take), () => set({ take: take.id }))}
          >
            <button
              type="button"
              aria-current={take.id === chosen}
              onClick={() => set({ take: take.id })}
              className={`flex w-full gap-2 border p-1 text-left ${take.id === chosen ? "border-act" : "border-vein"}`}
            >
              <span className="h-9 w-14 shrink-0 bg-raised">
                {take.picture && (
                  <Picture src={pictureOf(project, take)} alt="" className="h-full w-full object-cover" />
                )}
              </span>
              <span className="min-w-0 flex-1">
                <span className="block truncate">{take.name}</span>
                <span className="block truncate text-[0.92rem] text-quiet">
                  {take.quality}, {take.state === "done" ? `${read.number(take.seconds, 1)} s` : take.state}
                </span>
              </span>
            </button>
            {take.id === chosen && take.noise != null && (
              <>
                <Row label={tr("Noise")}>{read.percent(take.noise)}</Row>
                {take.raw_noise != null && <Row label={tr("Before cleaning")}>{read.percent(take.raw_noise)}</Row>}
              </>
            )}
            <div className="-mx-2.5 flex flex-wrap">
              <DoingWords doings={doingsOf(take)} />
            </div>
          </li>
        ))}
      </OneStop>
    </Card>
  );
}
