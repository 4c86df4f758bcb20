import { memo, useEffect, useMemo, useRef, useState } from "react";
import type { Shapes } from "../../api/client";
import { FormMissing } from "../../bench/Empty";
import { duration } from "../../ui/duration";
import { type Reading, useReading } from "../../ui/numbers/reading";
import { Picture, pictureOf } from "../../ui/Picture";
import type { Shown } from "../../view3d/useParts";
import { told, tr } from "../../words/words";
import type { Facts } from "./kinds";
import { StudioPreview } from "./preview/StudioPreview";
import { Beyond } from "./scenery/SetCard";
import { type Setting, useSetting, useStudioHand, useStudioStage } from "./store";
import { useStaging } from "./useStaging";
import { useTouch } from "./useTouch";

interface CanvasProps {
  project: string;
  studio: string;
  formId: string;
  form: Shapes["FormState"] | undefined;
  facts: Facts | undefined;
  size: [number, number];
  /** What a touch of the picture does, px from its left and top. */
  onTouch: ((at: [number, number], lifted: boolean) => void) | null;
  onWiden: () => void;
  stored: Setting | undefined;
  parts: Shown[];
  shot: Shapes["Shot"] | undefined;
  /** The shot whose light is seen beside the present one. */
  beside: Shapes["Shot"] | undefined;
  take: Shapes["TakeShape"] | undefined;
}

/** The picture: a take, or the set as it would be photographed. */
export function StudioCanvas(props: CanvasProps) {
  const { project, form, stored, parts, shot, take } = props;
  const { size } = props;
  const guides = useStudioStage((state) => state.guides);
  const read = useReading();
  const dragged = useStudioHand((hand) => hand.draft?.camera?.focal);
  const [width, height] = take ? [take.width, take.height] : size;
  const focal = (dragged ?? stored?.camera?.focal)?.toFixed(0);
  const coarse = useStudioHand((hand) => hand.coarse);
  const shed = useStudioHand((hand) => hand.shed);
  const previewed = shot ? tr`${shot.name}, ${focal} mm, ${width} × ${height}, preview` : tr("Preview");
  const caption = take
    ? takeCaption(take, read)
    : shed
      ? tr`${previewed}; fewer pixels while it moves`
      : coarse
        ? tr`${previewed}; reflections are coarse on this machine`
        : previewed;
  const frame = { aspect: width / height, guides, size: [width, height] as [number, number] };
  if (!take && props.beside && parts.length && stored && form) {
    const two = { ...props, form, stored, aspect: width / height };
    return (
      <div className="absolute inset-0 grid grid-cols-2">
        <div className="relative">
          <PictureFrame {...frame} caption={tr("This light")} onTouch={props.onTouch}>
            <StagedSet {...two} />
          </PictureFrame>
        </div>
        <div className="relative">
          <PictureFrame {...frame} caption={tr`The light of ${props.beside.name}`} onTouch={null}>
            <StagedSet {...two} light={props.beside.setting} />
          </PictureFrame>
        </div>
      </div>
    );
  }
  return (
    <PictureFrame {...frame} caption={caption} onTouch={take ? null : props.onTouch}>
      {take ? (
        <TakePicture project={project} take={take} />
      ) : parts.length && stored && form ? (
        <StagedSet {...props} form={form} stored={stored} aspect={width / height} />
      ) : form && !form.body.parts?.length ? (
        <div className="relative h-full bg-paper">
          <FormMissing
            project={project}
            title={tr("An empty set")}
            says={tr("The sweep and three lamps are up; the product is missing.")}
          />
        </div>
      ) : null}
    </PictureFrame>
  );
}

/** The set in the preview; what stands is drawn anew only where it has changed. */
function StagedSet(
  props: CanvasProps & { form: Shapes["FormState"]; stored: Setting; aspect: number; light?: Setting },
) {
  const { project, formId, form, parts, aspect } = props;
  const own = useSetting(props.stored);
  const setting = useMemo(() => withLight(own, props.light), [own, props.light]);
  const drafting = useStudioHand((hand) => hand.draft !== null);
  const alone = useStudioStage((state) => state.alone);
  const picked = useStudioStage((state) => (state.tool === "faces" ? state.wearer : null));
  const staging = useStaging(project, formId, props.studio, form.standing.head ?? null, setting);
  if (!staging) return null;
  return (
    <>
      <Still
        project={project}
        form={formId}
        setting={setting}
        staging={staging}
        parts={parts}
        alone={alone}
        picked={picked}
        aspect={aspect}
        moving={drafting}
      />
      <Beyond sides={staging.facts.beyond} onWiden={props.onWiden} />
    </>
  );
}

/** A setting in the light of another: its lamps, its surround, its exposure and white. */
function withLight(setting: Setting, light: Setting | undefined): Setting {
  if (!light) return setting;
  const { exposure, white } = light.camera ?? {};
  return {
    ...setting,
    lamps: light.lamps,
    surround: light.surround,
    camera: { ...setting.camera, exposure, white },
  };
}

const Still = memo(StudioPreview);

/** The picture's frame on the neutral surround, as large as its shape allows. */
function PictureFrame(props: {
  aspect: number;
  caption: string;
  guides: "none" | "thirds" | "centre" | "diagonals";
  size: [number, number];
  onTouch: CanvasProps["onTouch"];
  children: React.ReactNode;
}) {
  const touch = useTouch(props.onTouch, props.size);
  const outer = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      if (!entry) return;
      const [w, h] = [entry.contentRect.width - 56, entry.contentRect.height - 84];
      const width = Math.max(40, Math.min(w, h * props.aspect));
      setBox({ width, height: width / props.aspect });
    });
    watch.observe(outer.current!);
    return () => watch.disconnect();
  }, [props.aspect]);
  return (
    <div ref={outer} className="absolute inset-0 grid place-content-center">
      <div className="relative overflow-hidden" style={box} data-testid="picture">
        {props.children}
        <Lines kind={props.guides} />
        {touch && <div className="absolute inset-0 cursor-crosshair touch-none" data-testid="touch" {...touch} />}
      </div>
      <p className="mt-2 font-medium text-page" data-testid="caption" style={{ textShadow: "0 0 3px #000a" }}>
        {props.caption}
      </p>
    </div>
  );
}

const LINES: Record<string, [number, number, number, number][]> = {
  none: [],
  thirds: [
    [1 / 3, 0, 1 / 3, 1],
    [2 / 3, 0, 2 / 3, 1],
    [0, 1 / 3, 1, 1 / 3],
    [0, 2 / 3, 1, 2 / 3],
  ],
  centre: [
    [1 / 2, 0, 1 / 2, 1],
    [0, 1 / 2, 1, 1 / 2],
  ],
  diagonals: [
    [0, 0, 1, 1],
    [0, 1, 1, 0],
  ],
};

/** Lines over the picture to compose it by. */
function Lines({ kind }: { kind: string }) {
  return (
    <svg
      aria-hidden="true"
      viewBox="0 0 1 1"
      preserveAspectRatio="none"
      className="pointer-events-none absolute inset-0 h-full w-full"
    >
      {LINES[kind]!.map(([x1, y1, x2, y2]) => (
        <line
          key={`${x1}${y1}${x2}${y2}`}
          {...{ x1, y1, x2, y2 }}
          stroke="var(--page)"
          strokeOpacity={0.6}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}

function TakePicture({ project, take }: { project: string; take: Shapes["TakeShape"] }) {
  if (take.picture) {
    return <Picture src={pictureOf(project, take)} alt={tr`Take of ${take.name}`} className="h-full w-full" />;
  }
  return (
    <div className="grid h-full place-content-center bg-paper text-quiet">
      {(take.problem && told(take.problem)) ??
        (take.state === "queued" ? tr("Waiting in the darkroom") : tr("The first picture is coming"))}
    </div>
  );
}

export function takeCaption(take: Shapes["TakeShape"], read: Reading): string {
  const parts = [take.name, take.quality, `${take.samples} of ${take.wanted} samples`];
  if (take.noise != null) parts.push(`noise ${read.percent(take.noise)}`);
  parts.push(`${read.number(take.seconds, 1)} s`);
  if (take.state === "developing" && take.left != null) parts.push(`${duration(take.left)} left`);
  if (take.state === "cancelled") parts.push("cancelled");
  if (take.state === "failed") parts.push("failed");
  return parts.join(", ");
}
