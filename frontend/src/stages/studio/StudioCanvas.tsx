import { memo, useEffect, useRef, useState } from "react";
import type { Shapes } from "../../api/client";
import { FormMissing } from "../../bench/Empty";
import { duration } from "../../ui/duration";
import { type Reading, useReading } from "../../ui/numbers/reading";
import { Picture, pictureOf } from "../../ui/Picture";
import type { Shown } from "../../view3d/useParts";
import { told, tr } from "../../words/words";
import { StudioPreview } from "./StudioPreview";
import { type Setting, useSetting, useStudioHand, useStudioStage } from "./store";
import { useStaging } from "./useStaging";

interface CanvasProps {
  project: string;
  formId: string;
  form: Shapes["FormState"] | undefined;
  stored: Setting | undefined;
  parts: Shown[];
  shot: Shapes["Shot"] | undefined;
  take: Shapes["TakeShape"] | undefined;
}

/** The picture: a take, or the set as it would be photographed. */
export function StudioCanvas(props: CanvasProps) {
  const { project, form, stored, parts, shot, take } = props;
  const { size, guides } = useStudioStage();
  const read = useReading();
  const dragged = useStudioHand((hand) => hand.draft?.camera?.focal);
  const [width, height] = take ? [take.width, take.height] : shot ? [shot.width ?? 960, shot.height ?? 600] : size;
  const focal = (dragged ?? stored?.camera?.focal)?.toFixed(0);
  const coarse = useStudioHand((hand) => hand.coarse);
  const previewed = shot ? tr`${shot.name}, ${focal} mm, ${width} × ${height}, preview` : tr("Preview");
  const caption = take
    ? takeCaption(take, read)
    : coarse
      ? tr`${previewed}; reflections are coarse on this machine`
      : previewed;
  return (
    <PictureFrame aspect={width / height} caption={caption} guides={guides}>
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
function StagedSet(props: CanvasProps & { form: Shapes["FormState"]; stored: Setting; aspect: number }) {
  const { project, formId, form, parts, aspect } = props;
  const setting = useSetting(props.stored);
  const drafting = useStudioHand((hand) => hand.draft !== null);
  const alone = useStudioStage((state) => state.alone);
  const staging = useStaging(project, formId, form.standing.head ?? null, setting);
  if (!staging) return null;
  return (
    <Still staging={staging} sweep={setting.sweep!} parts={parts} alone={alone} aspect={aspect} moving={drafting} />
  );
}

const Still = memo(StudioPreview);

/** The picture's frame on the neutral surround, as large as its shape allows. */
function PictureFrame(props: { aspect: number; caption: string; guides: boolean; children: React.ReactNode }) {
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
        {props.guides && (
          <div aria-hidden="true" className="pointer-events-none absolute inset-0">
            {[1 / 3, 2 / 3].map((share) => (
              <span key={share}>
                <span className="absolute top-0 h-full w-px bg-page/60" style={{ left: `${share * 100}%` }} />
                <span className="absolute left-0 h-px w-full bg-page/60" style={{ top: `${share * 100}%` }} />
              </span>
            ))}
          </div>
        )}
      </div>
      <p className="mt-2 font-medium text-page" data-testid="caption" style={{ textShadow: "0 0 3px #000a" }}>
        {props.caption}
      </p>
    </div>
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
