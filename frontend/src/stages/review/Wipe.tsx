import { useRef, useState } from "react";
import type { Shapes } from "../../api/client";
import { holdOn } from "../../ui/knobs";
import { Picture, pictureOf } from "../../ui/Picture";
import { tr } from "../../words/words";

type Take = Shapes["TakeShape"];

interface WipeProps {
  project: string;
  pair: Take[];
  current: Take;
  pins: Shapes["Pin"][];
  pinning: boolean;
  onPlace: (take: string, x: number, y: number) => void;
}

/** Two takes one over the other with a wipe between them, or one alone; pins lie on the take they belong to. */
export function Wipe(props: WipeProps) {
  const { pair, pinning } = props;
  const [share, setShare] = useState(0.5);
  const frame = useRef<HTMLDivElement>(null);
  const aspect = pair[0] ? pair[0].width / pair[0].height : 1.6;
  const shareOf = (clientX: number) => {
    const box = frame.current!.getBoundingClientRect();
    return Math.min(1, Math.max(0, (clientX - box.left) / box.width));
  };
  const place = (event: React.MouseEvent) => {
    if (!pinning) return;
    const box = frame.current!.getBoundingClientRect();
    const x = (event.clientX - box.left) / box.width;
    const take = pair.length === 2 && x > share ? pair[1] : pair[0];
    if (take) props.onPlace(take.id, x, (event.clientY - box.top) / box.height);
  };
  const drag = (event: React.PointerEvent<HTMLDivElement>) => {
    event.stopPropagation();
    const target = event.currentTarget;
    holdOn(target, event);
    const move = (step: PointerEvent) => setShare(shareOf(step.clientX));
    const up = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
  };
  const keys = (event: React.KeyboardEvent) => {
    const step = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
    if (step) setShare(Math.min(1, Math.max(0, share + step)));
  };
  return (
    <div className="relative min-h-0 flex-1">
      <div className="absolute inset-0 grid place-content-center" style={{ containerType: "size" }}>
        <div
          ref={frame}
          data-testid="wipe"
          onClick={place}
          onKeyDown={undefined}
          className={`relative overflow-hidden ${pinning ? "cursor-crosshair" : ""}`}
          style={{ width: `min(100cqw, ${aspect * 100}cqh)`, aspectRatio: aspect }}
        >
          {pair.map((take, side) => (
            <div
              key={take.id}
              className="absolute inset-0"
              style={
                pair.length === 2
                  ? { clipPath: side === 0 ? `inset(0 ${(1 - share) * 100}% 0 0)` : `inset(0 0 0 ${share * 100}%)` }
                  : undefined
              }
            >
              <Picture
                src={pictureOf(props.project, take)}
                alt={`${take.name}, ${take.quality}`}
                className="h-full w-full object-cover"
                draggable={false}
              />
              <span className={`absolute bottom-2 bg-paper px-2 py-0.5 ${side === 0 ? "left-2" : "right-2"}`}>
                {take.name}, {take.quality}
              </span>
              {props.pins
                .filter((pin) => pin.take === take.id)
                .map((pin, index) => (
                  <span
                    key={pin.id}
                    title={`${pin.who}: ${pin.text}`}
                    className={`absolute grid h-6 w-6 -translate-x-1/2 -translate-y-1/2 place-items-center rounded-full border-2 border-page font-semibold text-[0.86rem] text-page ${pin.resolved ? "bg-quiet" : "bg-pick"}`}
                    style={{ left: `${pin.x * 100}%`, top: `${pin.y * 100}%` }}
                  >
                    {index + 1}
                  </span>
                ))}
            </div>
          ))}
          {pair.length === 2 && (
            <div
              role="slider"
              tabIndex={0}
              aria-label={tr("Wipe")}
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(share * 100)}
              onPointerDown={drag}
              onClick={(event) => event.stopPropagation()}
              onKeyDown={keys}
              className="absolute top-0 h-full w-6 -translate-x-1/2 cursor-ew-resize touch-none"
              style={{ left: `${share * 100}%` }}
            >
              <span className="absolute top-0 left-1/2 h-full w-0.5 -translate-x-1/2 bg-page" />
              <span className="absolute top-1/2 left-1/2 h-9 w-2.5 -translate-x-1/2 -translate-y-1/2 border border-ink bg-page" />
            </div>
          )}
        </div>
      </div>
    </div>
  );
}
