import { Vector3 } from "three";
import { dragged, KNOB } from "../../ui/knobs";
import { useReading } from "../../ui/numbers/reading";
import { cameraOf, onScreen } from "../../view3d/orbit";
import { tr } from "../../words/words";
import { type Cutting, normalOf, type Place, useSurface, useSurfaceHand } from "./store";

/** Half a length over which the screen is asked how far a millimetre goes. */
const PROBED = 5;

/** The plane's grip over the form: drag it along the plane's direction. */
export function SectionKnob({ size, middle }: { size: { width: number; height: number }; middle: Place }) {
  const orbit = useSurfaceHand((hand) => hand.orbit);
  const { cutting, set } = useSurface();
  const read = useReading();
  const normal = new Vector3(...normalOf(cutting));
  const centre = new Vector3(...middle);
  const on = centre.addScaledVector(normal, cutting.at - centre.dot(normal));
  const camera = cameraOf(orbit, size.width, size.height);
  const s = onScreen(camera, on, size.width, size.height);
  const [one, other] = [-PROBED, PROBED].map((mm) =>
    onScreen(camera, on.clone().addScaledVector(normal, mm), size.width, size.height),
  ) as [Vector3, Vector3];
  const [wx, wy] = [(other.x - one.x) / (2 * PROBED), (other.y - one.y) / (2 * PROBED)];
  const square = wx * wx + wy * wy;
  const length = Math.sqrt(square);
  // seen along its direction the plane cannot be dragged: a grip that goes nowhere is none
  if (length < 0.15) return null;
  const [ux, uy] = [wx / length, wy / length];
  const hold = (event: React.PointerEvent<SVGElement>) =>
    dragged(event, (x, y) => {
      // s is where the grip was taken hold of
      const mm = ((x - s.x) * wx + (y - s.y) * wy) / square;
      const held: Cutting = useSurface.getState().cutting;
      set({ cutting: { ...held, at: Math.round((cutting.at + mm) * 100) / 100 } });
    });
  const reach = 34;
  return (
    <g>
      <line
        x1={s.x - ux * reach}
        y1={s.y - uy * reach}
        x2={s.x + ux * reach}
        y2={s.y + uy * reach}
        stroke="var(--paper)"
        strokeWidth={5}
      />
      <line
        x1={s.x - ux * reach}
        y1={s.y - uy * reach}
        x2={s.x + ux * reach}
        y2={s.y + uy * reach}
        stroke="var(--act)"
        strokeWidth={2}
      />
      <circle
        {...KNOB}
        aria-label={tr("The section’s plane")}
        cx={s.x}
        cy={s.y}
        r={8}
        fill="var(--act)"
        stroke="var(--paper)"
        strokeWidth={2}
        className="pointer-events-auto cursor-move"
        onPointerDown={hold}
      />
      <text
        x={s.x + ux * reach + 8}
        y={s.y + uy * reach + 4}
        fill="var(--ink)"
        stroke="var(--paper)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {read.length(cutting.at, 2)}
      </text>
    </g>
  );
}
