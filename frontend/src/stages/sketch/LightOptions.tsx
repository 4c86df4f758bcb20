import { useQuery } from "@tanstack/react-query";
import { type PointerEvent, useState } from "react";
import { answer, api } from "../../api/client";
import { at } from "../../api/queries";
import { Button, Choice } from "../../ui/controls";
import { SliderField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import { useSketch } from "./store";

const RADIUS = 44;

/** A light on a small sphere, the three greys it gives, and the shading of the box or of the cylinder in it. */
export function LightOptions(props: { project: string; document: string; head: number | null; onShade: () => void }) {
  const { light, set } = useSketch();
  const [moving, setMoving] = useState<[number, number] | null>(null);
  const [across, up] = moving ?? [light.across, light.up];
  const { data: tones } = useQuery({
    queryKey: ["tones", props.document, props.head, light.across, light.up, light.base],
    queryFn: () =>
      answer(
        api.GET("/api/projects/{project}/sheets/{document}/tones", {
          params: {
            path: at(props.project, props.document).params.path,
            query: { across: light.across, up: light.up, base: light.base },
          },
        }),
      ),
    placeholderData: (before) => before,
  });
  const place = (event: PointerEvent<HTMLDivElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - box.left - box.width / 2) / (box.width / 2);
    const y = -(event.clientY - box.top - box.height / 2) / (box.height / 2);
    const far = Math.hypot(x, y);
    return far > 0.98 ? [(0.98 * x) / far, (0.98 * y) / far] : [x, y];
  };
  const step = (dx: number, dy: number) => {
    const [x, y] = [light.across + dx, light.up + dy];
    const far = Math.max(1, Math.hypot(x, y) / 0.98);
    set({ light: { ...light, across: x / far, up: y / far } });
  };
  return (
    <>
      <div
        className="mx-auto my-1 block h-[6.6rem] w-[6.6rem] cursor-crosshair touch-none"
        role="slider"
        aria-label={tr("Where the light stands")}
        aria-valuetext={tr`${Math.round(across * 100)} across, ${Math.round(up * 100)} up`}
        aria-valuenow={Math.round(up * 100)}
        aria-valuemin={-100}
        aria-valuemax={100}
        tabIndex={0}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setMoving(place(event));
        }}
        onPointerMove={(event) => moving && setMoving(place(event))}
        onPointerUp={(event) => {
          const [x, y] = place(event);
          setMoving(null);
          set({ light: { ...light, across: x, up: y } });
        }}
        onKeyDown={(event) => {
          const steps: Record<string, [number, number]> = {
            ArrowLeft: [-0.05, 0],
            ArrowRight: [0.05, 0],
            ArrowUp: [0, 0.05],
            ArrowDown: [0, -0.05],
          };
          const by = steps[event.key];
          if (!by) return;
          event.preventDefault();
          step(...by);
        }}
      >
        <svg
          viewBox={`${-RADIUS} ${-RADIUS} ${2 * RADIUS} ${2 * RADIUS}`}
          className="h-full w-full"
          role="presentation"
        >
          <defs>
            <radialGradient id="light-ball" cx={0.5 + across / 2.2} cy={0.5 - up / 2.2} r={0.75}>
              <stop offset="0" stopColor="var(--page)" />
              <stop offset="0.5" stopColor="var(--plaster)" />
              <stop offset="1" stopColor="var(--quiet)" />
            </radialGradient>
          </defs>
          <circle r={RADIUS - 1} fill="url(#light-ball)" stroke="var(--vein)" />
          <circle
            cx={across * RADIUS}
            cy={-up * RADIUS}
            r={5}
            fill="var(--raised)"
            stroke="var(--act)"
            strokeWidth={2}
          />
        </svg>
      </div>
      <SliderField
        label={tr("Base")}
        value={light.base}
        min={20}
        max={255}
        onChange={(base) => set({ light: { ...light, base } })}
      />
      {tones && (
        <div className="grid grid-cols-3 gap-[2px] py-1" role="group" aria-label={tr("Greys of this light")}>
          {(["lit", "middle", "shaded"] as const).map((name) => {
            const grey = `#${Math.round(tones[name]).toString(16).padStart(2, "0").repeat(3)}`;
            return (
              <button
                key={name}
                type="button"
                aria-label={tr`Draw with ${tr(name)}, ${grey}`}
                onClick={() => set({ colour: grey })}
                className="border border-vein text-[0.86rem] text-quiet"
              >
                <span data-pigment className="block h-[1.5rem]" style={{ background: grey }} />
                {tr(name)}
              </button>
            );
          })}
        </div>
      )}
      <Choice
        label={tr("Falls on")}
        options={["box", "cylinder"]}
        value={light.body}
        onChange={(body) => set({ light: { ...light, body } })}
      />
      <SliderField
        label={tr("Shadow")}
        value={light.shadow}
        min={0}
        max={100}
        onChange={(shadow) => set({ light: { ...light, shadow } })}
      />
      <Button onClick={props.onShade}>{tr("Shade it")}</Button>
    </>
  );
}
