import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { send } from "../../../api/client";
import { newId, sendForm, useWork } from "../../../api/queries";
import { DoingWords, menuOf } from "../../../bench/Doings";
import { Button, Card, Choice, ColourField, Disclosure, Row, Switch, TextField } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { OneStop } from "../../../ui/OneStop";
import { save } from "../../../ui/save";
import { useFileChooser } from "../../../ui/useFileChooser";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import type { Area, Setting, Surround } from "../kinds";
import { useSetting, useStudioStage } from "../store";

const SIZES = ["256 × 128", "512 × 256", "1024 × 512", "2048 × 1024", "4096 × 2048"];
/** Which roughness a map of a size is enough for: what is rougher hides its pixels. */
const ENOUGH: Record<string, () => string> = {
  "256 × 128": () => tr("Enough for rough finishes: rubber, paper, blasted metal."),
  "512 × 256": () => tr("Enough for matte finishes."),
  "1024 × 512": () => tr("Enough for satin finishes."),
  "2048 × 1024": () => tr("Enough for gloss finishes."),
  "4096 × 2048": () => tr("Enough for polish and glass."),
};

/** What is all around: panels and flags by direction, a map from a file; unrolled and as a mirror ball. */
export function SurroundCard(props: StudioProps) {
  const { project, studio, stored, edit, onDraft } = props;
  const setting = useSetting(stored);
  const surround = setting.surround as Required<Surround>;
  const { area: chosen, set } = useStudioStage();
  const [values, setValues] = useState<"display" | "linear">("display");
  const work = useWork(studio);
  const areas = surround.areas;
  const area = areas.find((one) => one.id === chosen) ?? areas[0];
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "surround", fields } });
  const chooser = useFileChooser(tr("Map of surroundings"), ".hdr,.exr,image/*", (file) =>
    work(async () => {
      const form = new FormData();
      form.append("file", file);
      form.append("values", values);
      await sendForm(studio, `/api/projects/${project}/studios/${studio}/surround`, form);
    }),
  );
  const add = async (kind: Area["kind"]) => {
    const fresh = {
      kind,
      id: newId().slice(0, 8),
      azimuth: ((areas.length * 70 + 120) % 360) - 180,
      height: 25,
      width: 40,
      tall: 60,
    } as Area;
    if (await edit({ kind: "set_surround", surround: { ...surround, areas: [...areas, fresh] } }))
      set({ area: fresh.id });
  };
  const number = (
    field: "room" | "strength" | "turn" | "lift",
    label: string,
    unit: string,
    limits: [number, number],
    digits = 0,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      digits={digits}
      step={digits ? 0.1 : 1}
      min={limits[0]}
      max={limits[1]}
      value={surround[field]}
      onSlide={(value) => onDraft({ surround: { ...surround, [field]: value } })}
      onChange={(value) => change({ [field]: value })}
    />
  );
  const out = (format: "hdr" | "exr") =>
    save(`/api/projects/${project}/studios/${studio}/surround?format=${format}`, `surround.${format}`);
  return (
    <Card title={tr("Surround")} aside={surround.size}>
      <Unrolled
        project={project}
        setting={setting}
        areas={areas}
        chosen={area?.id}
        onDraft={(next) =>
          onDraft({ surround: { ...surround, areas: areas.map((one) => (one.id === next.id ? next : one)) } })
        }
        onPick={(id) => set({ area: id })}
        onDone={(next) =>
          edit({ amend: { kind: "area", id: next.id, fields: { azimuth: next.azimuth, height: next.height } } })
        }
      />
      <Ball project={project} setting={setting} />
      <Row label={tr("Size")}>
        <Choice label={tr("Size")} options={SIZES} value={surround.size} onChange={(size) => change({ size })} />
      </Row>
      <p className="text-[0.86rem] text-quiet">{ENOUGH[surround.size]?.()}</p>
      {props.mapWanted !== undefined && props.mapWanted > Number.parseInt(surround.size, 10) && (
        <p className="text-[0.86rem] text-warn">
          {tr`The smoothest finish here mirrors finer than that: it wants ${String(props.mapWanted)} px.`}
        </p>
      )}
      {number("strength", tr("Strength"), tr("stops"), [-10, 10], 1)}
      {number("turn", tr("Turned"), "°", [-180, 180])}
      {number("lift", tr("Lifted"), "°", [-90, 90])}
      {!surround.map && number("room", tr("The bare room"), tr("stops"), [-20, 6], 1)}
      <Switch
        label={tr("Seen behind the set, not only reflected")}
        word={tr("Seen")}
        on={surround.seen}
        onChange={(seen) => change({ seen })}
      />
      <OneStop className="flex flex-wrap gap-x-3">
        {areas.map((one) => {
          const away = {
            kind: "set_surround" as const,
            surround: { ...surround, areas: areas.filter((x) => x.id !== one.id) },
          };
          return (
            <button
              key={one.id}
              type="button"
              aria-pressed={one.id === area?.id}
              onClick={() => set({ area: one.id })}
              {...menuOf([{ name: tr("Take it away"), run: () => edit(away) }], () => set({ area: one.id }))}
              className={one.id === area?.id ? "text-act" : "text-quiet hover:text-ink"}
            >
              {one.name || tr(one.kind)}
            </button>
          );
        })}
      </OneStop>
      <div className="-mx-2.5 flex flex-wrap">
        <DoingWords
          doings={[
            { name: tr("Add a panel"), run: () => add("panel") },
            { name: tr("Add a flag"), run: () => add("flag") },
            ...(area
              ? [
                  {
                    name: tr("Take it away"),
                    run: () =>
                      edit({
                        kind: "set_surround",
                        surround: { ...surround, areas: areas.filter((x) => x.id !== area.id) },
                      }),
                  },
                ]
              : []),
          ]}
        />
      </div>
      {area && <AreaFields {...props} area={area} areas={areas} surround={surround} />}
      <Disclosure title={surround.map ? tr`Map: ${surround.map_name || tr("a file")}` : tr("Map from a file")}>
        <Row label={tr("A picture’s numbers are")}>
          <Choice
            label={tr("A picture’s numbers are")}
            options={["display", "linear"]}
            value={values}
            onChange={(next) => setValues(next as typeof values)}
          />
        </Row>
        <div className="-mx-2.5 flex flex-wrap">
          <Button weight="quiet" onClick={chooser.open}>
            {tr("Bring in .hdr, .exr or a picture")}
          </Button>
          <Button weight="quiet" onClick={() => out("hdr")}>
            {tr("Save as .hdr")}
          </Button>
          <Button weight="quiet" onClick={() => out("exr")}>
            {tr("Save as .exr")}
          </Button>
          {surround.map && (
            <Button weight="quiet" onClick={() => change({ map: null, map_name: "" })}>
              {tr("Without the map")}
            </Button>
          )}
        </div>
        {chooser.field}
      </Disclosure>
    </Card>
  );
}

function AreaFields(props: StudioProps & { area: Area; areas: Area[]; surround: Surround }) {
  const { area, areas, surround, edit, onDraft } = props;
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "area", id: area.id, fields } });
  const number = (
    field: string,
    label: string,
    unit: string | undefined,
    limits: [number, number],
    digits = 0,
    step = 1,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      digits={digits}
      step={step}
      min={limits[0]}
      max={limits[1]}
      value={(area as unknown as Record<string, number>)[field] ?? 0}
      onSlide={(value) =>
        onDraft({
          surround: {
            ...surround,
            areas: areas.map((one) => (one.id === area.id ? ({ ...one, [field]: value } as Area) : one)),
          },
        })
      }
      onChange={(value) => change({ [field]: field === "copies" ? Math.round(value) : value })}
    />
  );
  return (
    <>
      <TextField label={tr("Name")} value={area.name || tr(area.kind)} onChange={(name) => change({ name })} />
      <Switch label={tr("There")} on={area.on ?? true} onChange={(on) => change({ on })} />
      {number("azimuth", tr("Around"), "°", [-180, 180], 1)}
      {number("height", tr("Height"), "°", [-90, 90], 1)}
      {number("width", tr("Width"), "°", [0.5, 170], 1)}
      {number("tall", tr("Tall"), "°", [0.5, 170], 1)}
      {number("turn", tr("Turned"), "°", [-180, 180])}
      {number("soft", tr("Soft edge"), undefined, [0, 1], 2, 0.05)}
      <Switch label={tr("Round")} on={area.round ?? false} onChange={(round) => change({ round })} />
      {number("copies", tr("Copies around"), undefined, [1, 36])}
      {area.kind === "panel" && (
        <>
          {number("power", tr("Power"), tr("stops"), [-8, 10], 1, 0.1)}
          {number("warmth", tr("Warmth"), "K", [1700, 12000], 0, 100)}
          <ColourField label={tr("Colour")} value={area.colour!} onChange={(colour) => change({ colour })} />
        </>
      )}
    </>
  );
}

/** A picture of the surround from the server, the one before it until it is here. */
function usePictureOf(project: string, setting: Setting, how: "unrolled" | "ball"): string | undefined {
  const sky = (setting.lamps ?? []).filter((lamp) => lamp.kind === "sky");
  return useQuery<string>({
    queryKey: ["surround-picture", how, setting.surround, sky],
    queryFn: async ({ signal }) => {
      const answered = await send(`/api/projects/${project}/surround-picture`, {
        method: "POST",
        body: JSON.stringify({ setting, how }),
        headers: { "Content-Type": "application/json" },
        signal,
      });
      return await readAsAddress(await answered.blob());
    },
    placeholderData: keepPreviousData,
    gcTime: 1_000,
  }).data;
}

function readAsAddress(blob: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error);
    reader.readAsDataURL(blob);
  });
}

function Ball({ project, setting }: { project: string; setting: Setting }) {
  const picture = usePictureOf(project, setting, "ball");
  return (
    <Row label={tr("Mirror ball")}>
      {picture && (
        <img src={picture} alt={tr("The surround as a mirror ball shows it")} className="h-20 w-20 rounded-full" />
      )}
    </Row>
  );
}

interface UnrolledProps {
  project: string;
  setting: Setting;
  areas: Area[];
  chosen: string | undefined;
  onPick: (id: string) => void;
  onDraft: (area: Area) => void;
  onDone: (area: Area) => void;
}

/** The map unrolled: its middle is the back, its sides the front. Panels are dragged about on it. */
function Unrolled({ project, setting, areas, chosen, onPick, onDraft, onDone }: UnrolledProps) {
  const picture = usePictureOf(project, setting, "unrolled");
  const drag = (area: Area) => (down: React.PointerEvent<HTMLButtonElement>) => {
    onPick(area.id);
    const box = down.currentTarget.parentElement!.getBoundingClientRect();
    const grip = down.currentTarget;
    grip.setPointerCapture(down.pointerId);
    let last: Area | null = null;
    const move = (event: PointerEvent) => {
      const x = (event.clientX - box.left) / box.width;
      const y = (event.clientY - box.top) / box.height;
      const azimuth = Math.round(((((x * 360 + 180) % 360) + 360) % 360) - 180);
      last = { ...area, azimuth, height: Math.round(Math.min(90, Math.max(-90, 90 - y * 180))) };
      onDraft(last);
    };
    const up = () => {
      grip.removeEventListener("pointermove", move);
      grip.removeEventListener("pointerup", up);
      if (last) onDone(last);
    };
    grip.addEventListener("pointermove", move);
    grip.addEventListener("pointerup", up);
  };
  return (
    <div className="relative aspect-[2/1] w-full touch-none border border-vein bg-raised">
      {picture && <img src={picture} alt={tr("The surround unrolled")} className="absolute inset-0 h-full w-full" />}
      {areas.map((area) => (
        <button
          key={area.id}
          type="button"
          aria-label={area.name || tr(area.kind)}
          onPointerDown={drag(area)}
          className={`absolute h-6 w-6 -translate-x-1/2 -translate-y-1/2 cursor-grab border-2 ${area.id === chosen ? "border-warn" : "border-paper mix-blend-difference"}`}
          style={{
            left: `${((((area.azimuth ?? 0) % 360) + 360) % 360) / 3.6}%`,
            top: `${(90 - (area.height ?? 0)) / 1.8}%`,
          }}
        />
      ))}
    </div>
  );
}
