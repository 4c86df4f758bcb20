import { answer, api, type Shapes } from "../../api/client";
import { type Edit, useWork } from "../../api/queries";
import { FINISHES } from "../../api/values";
import { carries, putDown } from "../../bench/carrying";
import { copy } from "../../bench/copying";
import { type Doing, Doings, DoingWords, menuOf } from "../../bench/Doings";
import { useBench } from "../../bench/store";
import { Button, Card, Choice, ColourField, Row, Switch, TextField } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { useReading } from "../../ui/numbers/reading";
import { OneStop } from "../../ui/OneStop";
import { Picture, pictureOf } from "../../ui/Picture";
import { save } from "../../ui/save";
import { capitalised } from "../../ui/words";
import { told, tr } from "../../words/words";
import { PlanFromAbove, PlanFromTheSide } from "./LightingPlan";
import { useLampDoings } from "./lampDoings";
import { type Setting, useSetting, useStudioStage } from "./store";
import { useStaging } from "./useStaging";

type Lamp = Shapes["Lamp"];
type Shot = Shapes["Shot"];
type Take = Shapes["TakeShape"];

interface InspectorProps {
  documents: Shapes["DocumentShape"][];
  project: string;
  studio: string;
  stored: Setting;
  formId: string;
  shots: Shot[];
  shot: Shot | undefined;
  takes: Take[];
  parts: Shapes["Part"][];
  formHead: number;
  edit: Edit;
  onDraft: (lamp: Lamp) => void;
  onLamp: (lamp: Lamp) => void;
}

/** Finishes, lighting plan, the chosen lamp, shots, takes. What is told of the light comes later, below what one reaches for. */
export function StudioInspector(props: InspectorProps) {
  return (
    <>
      <FinishCard {...props} />
      <PlanCard {...props} />
      <LampCard {...props} />
      <ShotsCard {...props} />
      <TakesCard {...props} />
    </>
  );
}

function PlanCard({ project, studio, formId, formHead, stored, edit, onDraft, onLamp }: InspectorProps) {
  const doingsOf = useLampDoings(project, studio, edit);
  const setting = useSetting(stored);
  const facts = useStaging(project, formId, formHead || null, setting)?.facts;
  const plan = { setting, onDraft, onDone: onLamp, doingsOf };
  const read = useReading();
  return (
    <Card title={tr("Lighting plan")} aside={tr("above, side")}>
      <PlanFromAbove {...plan} />
      <PlanFromTheSide {...plan} />
      {facts?.softness && <Row label={tr("Shadow")}>{read.sentence(facts.softness)}</Row>}
      {facts?.shadow_sides != null && <Row label={tr("Edge at its sides")}>{read.length(facts.shadow_sides)}</Row>}
      {facts?.shadow_end != null && <Row label={tr("Edge at its end")}>{read.length(facts.shadow_end)}</Row>}
      {facts?.key_to_fill != null && (
        <Row label={tr("Key to fill")}>
          {read.number(facts.key_to_fill, 1)} {tr("stops")}
        </Row>
      )}
      {facts?.kind && <Row label={tr("Key lights it")}>{told(facts.kind)}</Row>}
    </Card>
  );
}

function LampCard({ project, studio, stored, edit }: InspectorProps) {
  const doingsOf = useLampDoings(project, studio, edit);
  const setting = useSetting(stored);
  const { lamp: chosen, alone, set } = useStudioStage();
  const lamp = setting.lamps?.find((candidate) => candidate.id === chosen) ?? setting.lamps?.[0];
  if (!lamp) {
    return (
      <Card title={tr("Lamps")} aside={tr("none")}>
        <Button onClick={() => edit({ kind: "start_three_point" })}>{tr("Set up three lamps")}</Button>
      </Card>
    );
  }
  const change = (fields: Partial<Lamp>) => edit({ amend: { kind: "lamp", id: lamp.id, fields } });
  const number = (field: keyof Lamp, label: string, unit: string, min: number, max: number, digits = 0, step = 1) => (
    <NumberField
      label={label}
      value={lamp[field] as number}
      unit={unit}
      min={min}
      max={max}
      digits={digits}
      step={step}
      onChange={(value) => change({ [field]: value })}
    />
  );
  return (
    <Card
      title={capitalised(lamp.role)}
      aside={
        <OneStop className="flex gap-3">
          {setting.lamps!.map((other) => (
            <button
              key={other.id}
              type="button"
              aria-pressed={other.id === lamp.id}
              onClick={() => set({ lamp: other.id })}
              {...menuOf(doingsOf(other), () => set({ lamp: other.id }))}
              className={`min-h-[24px] min-w-[24px] ${other.id === lamp.id ? "text-act" : "hover:text-ink"}`}
            >
              {tr(other.role)}
            </button>
          ))}
        </OneStop>
      }
    >
      <Switch label={tr("Lamp on")} word={tr("On")} on={lamp.on ?? true} onChange={() => change({ on: !lamp.on })} />
      <Switch
        label={tr("This lamp alone")}
        word={tr("Alone")}
        on={alone === lamp.id}
        onChange={(only) => set({ alone: only ? lamp.id : null, take: null })}
      />
      {number("azimuth", tr("Around"), "°", -180, 180)}
      {number("height", tr("Height"), "°", -10, 90)}
      {number("distance", tr("Distance"), "mm", 100, 10000, 0, 10)}
      {number("width", tr("Width"), "mm", 10, 4000, 0, 10)}
      {number("tall", tr("Tall"), "mm", 10, 4000, 0, 10)}
      {number("power", tr("Power"), tr("stops"), -8, 8, 1, 0.1)}
      {number("warmth", tr("Warmth"), "K", 1700, 12000, 0, 100)}
    </Card>
  );
}

function FinishCard({ project, studio, stored, parts, edit }: InspectorProps) {
  const { part: chosen, set } = useStudioStage();
  const part = parts.find((candidate) => candidate.id === chosen) ?? parts[0];
  if (!part) return null;
  const finish = stored.finishes?.[part.id] ?? { material: "matte plastic" as const, colour: "#c9c4ba" };
  const change = (fields: Partial<Shapes["Finish"]>) =>
    edit({ amend: { kind: "finish", part: part.id, name: part.name, fields } });
  return (
    <Card title={tr("Finish")} aside={part.name}>
      <label className="flex items-center justify-between text-quiet">
        {tr("Part")}
        <select
          aria-label={tr("Part")}
          value={part.id}
          onChange={(event) => set({ part: event.target.value })}
          className="border border-vein bg-raised px-1 py-0.5 text-ink"
        >
          {parts.map((other) => (
            <option key={other.id} value={other.id}>
              {other.name}
            </option>
          ))}
        </select>
      </label>
      <Choice
        label={tr("Material")}
        options={FINISHES}
        value={finish.material!}
        onChange={(material) => change({ material })}
      />
      <ColourField label={tr("Colour")} value={finish.colour!} onChange={(colour) => change({ colour })} />
      {stored.finishes?.[part.id] && (
        <Doings
          doings={[
            {
              name: tr("Copy this finish"),
              run: () =>
                copy(project, studio, { what: "finish", items: [part.id], said: tr`the finish of ${part.name}` }),
            },
          ]}
        />
      )}
    </Card>
  );
}

function ShotsCard(props: InspectorProps) {
  const { shots, shot, stored, formHead, edit } = props;
  const set = useStudioStage((state) => state.set);
  const chooseShot = useBench((bench) => bench.chooseShot);
  const choose = (id: string) => {
    chooseShot(id);
    set({ take: null });
  };
  const shotDoings = (of: Shapes["Shot"]): Doing[] => [
    { name: tr("Back to its setting"), run: () => edit({ kind: "open_shot", id: of.id }) },
    {
      name: tr("Update shot"),
      run: () => edit({ kind: "change_shot", id: of.id, update: true, form_edit: formHead }),
    },
    { name: tr("Remove this shot"), run: () => edit({ kind: "remove_shot", id: of.id }) },
  ];
  const behind = shot && (JSON.stringify(shot.setting) !== JSON.stringify(stored) || shot.form_edit !== formHead);
  return (
    <Card title={tr("Shots")} aside={shots.length ? "" : tr("none yet")}>
      {shots.length === 0 && (
        <p className="text-quiet">
          {tr("A shot keeps view, lamps, finishes and size, so a picture can be taken again.")}
        </p>
      )}
      <OneStop>
        {shots.map((other) => (
          <div
            key={other.id}
            data-row
            {...menuOf(shotDoings(other), () => choose(other.id))}
            className={`-mx-4 border-l-[3px] px-[0.8rem] ${other.id === shot?.id ? "border-act bg-raised" : "border-transparent"}`}
          >
            <button
              type="button"
              aria-current={other.id === shot?.id}
              onClick={() => choose(other.id)}
              className="flex w-full justify-between py-0.5 text-left"
            >
              <span>{other.name}</span>
              <span className="text-quiet">
                {other.width} × {other.height}
              </span>
            </button>
          </div>
        ))}
      </OneStop>
      {shot && (
        <div className="space-y-1.5 pt-1">
          <TextField
            label={tr("Name")}
            value={shot.name}
            onChange={(name) => edit({ kind: "change_shot", id: shot.id, name, update: false })}
          />
          <div className="grid grid-cols-2 gap-4">
            <NumberField
              label={tr("Wide")}
              value={shot.width ?? 960}
              min={16}
              max={8192}
              unit="px"
              onChange={(width) => edit({ kind: "change_shot", id: shot.id, width: Math.round(width), update: false })}
            />
            <NumberField
              label={tr("Tall")}
              value={shot.height ?? 600}
              min={16}
              max={8192}
              unit="px"
              onChange={(height) =>
                edit({ kind: "change_shot", id: shot.id, height: Math.round(height), update: false })
              }
            />
          </div>
          {behind && (
            <>
              <p className="text-warn">{tr("The setting or the form has moved on since this shot was kept.")}</p>
              <div className="flex flex-wrap gap-2">
                <Button onClick={() => edit({ kind: "change_shot", id: shot.id, update: true, form_edit: formHead })}>
                  {tr("Update shot")}
                </Button>
                <Button onClick={() => edit({ kind: "open_shot", id: shot.id })}>{tr("Back to its setting")}</Button>
              </div>
            </>
          )}
          <Button weight="quiet" onClick={() => edit({ kind: "remove_shot", id: shot.id })}>
            {tr("Remove this shot")}
          </Button>
        </div>
      )}
    </Card>
  );
}

function TakesCard(props: InspectorProps) {
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
