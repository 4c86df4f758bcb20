import { newId } from "../../../api/queries";
import { DoingWords, menuOf } from "../../../bench/Doings";
import { Button, Card, Choice, Row, Switch } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { OneStop } from "../../../ui/OneStop";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import type { Camera } from "../kinds";
import { movedCamera } from "../moves";
import { useSetting, useStudioStage } from "../store";

/** F-numbers as lenses have them. */
const STOPS = ["all sharp", "2", "2.8", "4", "5.6", "8", "11", "16", "22", "32"];
const ASPECTS: Record<string, [number, number]> = {
  "3 × 2": [960, 640],
  "16 × 10": [960, 600],
  "16 × 9": [960, 540],
  "1 × 1": [800, 800],
  "4 × 5": [720, 900],
  "2 × 1": [1000, 500],
};

/** Lens, frame, exposure, focus. */
export function CameraCard(props: StudioProps) {
  const { project, formId, stored, body, size, facts, shot, edit, onDraft, onCamera } = props;
  const camera = useSetting(stored).camera as Required<Camera>;
  const { guides, keepSize, set, tool } = useStudioStage();
  const read = useReading();
  const place = { project, form: formId };
  const move = async (wish: Parameters<typeof movedCamera>[2]) => onCamera(await movedCamera(place, stored, wish));
  const number = (
    field: keyof Camera,
    label: string,
    unit: string,
    limits: [number, number],
    rest: { digits?: number; step?: number; fixed?: boolean } = {},
  ) => (
    <NumberField
      label={label}
      unit={unit}
      value={camera[field] as number}
      min={limits[0]}
      max={limits[1]}
      {...rest}
      onSlide={(value) => onDraft({ camera: { ...camera, [field]: value } })}
      onChange={(value) => onCamera({ ...camera, [field]: value })}
    />
  );
  const shift = (axis: 0 | 1, label: string) => (
    <NumberField
      label={label}
      unit="mm"
      fixed
      digits={1}
      step={0.5}
      min={-60}
      max={60}
      value={camera.shift[axis]}
      onChange={(value) => {
        const moved: [number, number] = [...camera.shift];
        moved[axis] = value;
        return onCamera({ ...camera, shift: moved });
      }}
    />
  );
  const sized = (width: number, height: number) =>
    shot
      ? edit({ kind: "change_shot", id: shot.id, width, height, update: false })
      : Promise.resolve(set({ size: [width, height] }));
  const aspect = Object.keys(ASPECTS).find((name) => {
    const [w, h] = ASPECTS[name]!;
    return Math.abs(w / h - size[0] / size[1]) < 0.005;
  });
  return (
    <Card title={tr("Camera")} aside={`${camera.focal.toFixed(0)} mm`}>
      <NumberField
        label={tr("Lens")}
        unit="mm"
        fixed
        value={camera.focal}
        min={12}
        max={400}
        onSlide={(focal) => !keepSize && onDraft({ camera: { ...camera, focal } })}
        onChange={(focal) => (keepSize ? move({ kind: "lens", focal }) : onCamera({ ...camera, focal }))}
      />
      <Switch
        label={tr("Keep the product’s size while the lens changes")}
        word={tr("Keep its size")}
        on={keepSize}
        onChange={(on) => set({ keepSize: on })}
      />
      {number("distance", tr("Distance"), "mm", [50, 20000], { step: 10 })}
      {number("azimuth", tr("Around"), "°", [-180, 180], { digits: 1 })}
      {number("height", tr("Height"), "mm", [-500, 10000], { step: 5 })}
      {number("aim", tr("Aim at"), "mm", [-1000, 5000], { step: 2 })}
      {number("aside", tr("Aim aside"), "mm", [-5000, 5000], { step: 2 })}
      {number("roll", tr("Roll"), "°", [-180, 180], { digits: 1 })}
      <Switch
        label={tr("Keep upright edges upright")}
        word={tr("Upright")}
        on={camera.upright}
        onChange={(upright) => onCamera({ ...camera, upright })}
      />
      {shift(0, tr("Shift across"))}
      {shift(1, tr("Shift up"))}
      <Button onClick={() => move({ kind: "frame", size })}>{tr("Frame the product")}</Button>

      {number("exposure", tr("Exposure"), tr("EV"), [-4, 24], { digits: 1, step: 0.1 })}
      {facts?.metered != null && (
        <Row label={tr("Grey card says")}>
          <Button weight="quiet" onClick={() => move({ kind: "meter" })} label={tr("Expose for a grey card")}>
            {tr`${read.number(facts.metered, 1)} EV`}
          </Button>
        </Row>
      )}
      {number("white", tr("White is"), "K", [1700, 12000], { step: 100 })}

      <Row label={tr("Aperture")}>
        <Choice
          label={tr("Aperture")}
          options={STOPS}
          value={camera.aperture ? String(camera.aperture) : "all sharp"}
          onChange={(stop) => onCamera({ ...camera, aperture: stop === "all sharp" ? null : Number(stop) })}
        />
      </Row>
      {facts?.near != null && (
        <Row label={tr("Sharp from, to")}>
          {tr`${read.length(-facts.near)} before, ${facts.far == null ? tr("without end") : read.length(facts.far)} behind`}
        </Row>
      )}
      {facts?.shutter != null && <Row label={tr("Shutter at ISO 100")}>{shutterOf(facts.shutter)}</Row>}
      <Button
        pressed={tool === "focus"}
        onClick={() => set({ tool: tool === "focus" ? "camera" : "focus", take: null })}
      >
        {tr("Touch what is sharp")}
      </Button>

      <Row label={tr("Frame")}>
        <Choice
          label={tr("Frame")}
          options={Object.keys(ASPECTS)}
          value={aspect ?? ""}
          onChange={(name) => {
            const [w, h] = ASPECTS[name]!;
            const scale = Math.sqrt((size[0] * size[1]) / (w * h));
            return sized(Math.round(w * scale), Math.round(h * scale));
          }}
        />
      </Row>
      <Row label={tr("Lines over it")}>
        <Choice
          label={tr("Lines over it")}
          options={["none", "thirds", "centre", "diagonals"]}
          value={guides}
          onChange={(lines) => set({ guides: lines as typeof guides })}
        />
      </Row>
      <Views views={body.views ?? []} camera={camera} size={size} shot={shot?.id} edit={edit} />
    </Card>
  );
}

function Views(props: {
  views: NonNullable<StudioProps["body"]["views"]>;
  camera: Camera;
  size: [number, number];
  shot: string | undefined;
  edit: StudioProps["edit"];
}) {
  const { views, camera, size, shot, edit } = props;
  const { set } = useStudioStage();
  const keep = () => {
    const names = new Set(views.map((view) => view.name));
    let number = views.length + 1;
    while (names.has(tr`View ${number}`)) number++;
    const view = { id: newId().slice(0, 8), name: tr`View ${number}`, camera, width: size[0], height: size[1] };
    return edit({ kind: "keep_view", view });
  };
  const back = (view: (typeof views)[number]) => {
    set({ size: [view.width!, view.height!] });
    return edit({ kind: "go_to_view", id: view.id, shot: shot ?? null });
  };
  return (
    <>
      <OneStop>
        {views.map((view) => {
          const doings = [
            { name: tr("Back to this view"), run: () => back(view) },
            { name: tr("Forget this view"), run: () => edit({ kind: "forget_view", id: view.id }) },
          ];
          return (
            <div
              key={view.id}
              data-row
              {...menuOf(doings, () => undefined)}
              className="flex items-center justify-between"
            >
              <button type="button" className="text-left hover:text-act" onClick={doings[0]!.run}>
                {view.name}
              </button>
              <DoingWords doings={doings.slice(1)} />
            </div>
          );
        })}
      </OneStop>
      <Button onClick={keep}>{tr("Keep this view")}</Button>
    </>
  );
}

function shutterOf(seconds: number): string {
  return seconds >= 0.4 ? tr`${seconds.toFixed(1)} s` : tr`1/${Math.round(1 / seconds)} s`;
}
