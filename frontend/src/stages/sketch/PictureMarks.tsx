import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { middleOf, toScreen, type Viewport } from "../../paper/viewport";
import { tr } from "../../words/words";
import { Knob } from "./Knob";
import { useKnobs } from "./useKnobs";

type Place = [number, number];
type Quad = [Place, Place, Place, Place];

const CORNERS = ["upper left", "upper right", "lower right", "lower left"];

/** Knobs of the picture worked on: corners warp it, the middle moves it, the knob above turns and scales it. */
export function PictureMarks(props: { view: Viewport; layer: Shapes["LayerOutline"]; edit: Edit }) {
  const { view, layer, edit } = props;
  const { moving, drag } = useKnobs<Quad>(view, (quad) => edit({ kind: "set_picture", layer: layer.id, quad }));
  const quad = moving ?? (layer.quad as Quad);
  const middle = middleOf(quad);
  const top: Place = [(quad[0][0] + quad[1][0]) / 2, (quad[0][1] + quad[1][1]) / 2];
  const reach = 40 / view.scale / Math.max(1, Math.hypot(top[0] - middle[0], top[1] - middle[1]));
  const knob: Place = [top[0] + (top[0] - middle[0]) * reach, top[1] + (top[1] - middle[1]) * reach];

  const dot = (label: string, at: Place, change: (to: Place) => Quad, full = false) => (
    <Knob key={label} view={view} label={label} at={at} full={full} radius={7} onGrab={drag(change)} />
  );
  const turned = (to: Place): Quad => {
    const [ax, ay] = [knob[0] - middle[0], knob[1] - middle[1]];
    const [bx, by] = [to[0] - middle[0], to[1] - middle[1]];
    const scale = Math.max(0.02, Math.hypot(bx, by) / Math.max(1e-6, Math.hypot(ax, ay)));
    const angle = Math.atan2(by, bx) - Math.atan2(ay, ax);
    const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale];
    return quad.map(([x, y]) => {
      const [dx, dy] = [x - middle[0], y - middle[1]];
      return [middle[0] + c * dx - s * dy, middle[1] + s * dx + c * dy];
    }) as Quad;
  };
  return (
    <g data-testid="picture-marks">
      <polygon
        points={quad.map((corner) => toScreen(view, ...corner).join(",")).join(" ")}
        fill="none"
        stroke="var(--pick)"
        strokeDasharray="5 4"
      />
      {quad.map((corner, k) =>
        dot(
          tr`Move the picture’s ${CORNERS[k]} corner`,
          corner,
          (to) => quad.map((old, j) => (j === k ? to : old)) as Quad,
        ),
      )}
      {dot(
        tr("Move the picture"),
        middle,
        (to) => quad.map(([x, y]) => [x + to[0] - middle[0], y + to[1] - middle[1]]) as Quad,
        true,
      )}
      {dot(tr("Turn and scale the picture"), knob, turned)}
    </g>
  );
}
