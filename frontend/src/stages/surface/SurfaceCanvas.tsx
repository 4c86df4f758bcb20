import { useEffect, useMemo, useRef } from "react";
import { type BufferAttribute, DoubleSide, Mesh, Triangle, Vector3 } from "three";
import type { Shapes } from "../../api/client";
import { FormMissing } from "../../bench/Empty";
import { useReading } from "../../ui/numbers/reading";
import type { Spot } from "../../ui/pointing";
import { cameraOf, onScreen, rayAt } from "../../view3d/orbit";
import { Daylight, Plaster } from "../../view3d/Plaster";
import type { Shown } from "../../view3d/useParts";
import { View3D } from "../../view3d/View3D";
import { tr } from "../../words/words";
import type { Finding } from "./cards";
import { type CurvatureMap, colourOf, plain, type Quantity, unitOf } from "./curvature";
import { StripeDial } from "./StripeDial";
import { Striped } from "./Striped";
import { type Reading, surfaceEye, useSurface, useSurfaceHand } from "./store";

interface CanvasProps {
  project: string;
  form: Shapes["FormState"] | undefined;
  parts: Shown[];
  quantity: Quantity | null;
  maps: (CurvatureMap | undefined)[];
  range: number;
  findings: Finding[];
}

/** The form as a probe shows it. */
export function SurfaceCanvas(props: CanvasProps) {
  const { form, parts, quantity, maps, range, findings } = props;
  const { probe, count, around, above } = useSurface();
  const across = useMemo(() => direction(around, above), [around, above]);
  const hands = useValueUnder(parts, maps, quantity);
  const scene = useMemo(
    () => (
      <>
        {(probe === "soundness" || (quantity && maps.some((map) => !map))) && <Daylight />}
        {parts.map((shown, index) =>
          probe === "stripes" ? (
            <Striped key={shown.part.id} mesh={shown.mesh} count={count} across={across} />
          ) : quantity && maps[index] ? (
            <mesh key={shown.part.id + quantity} geometry={shown.mesh.geometry}>
              <meshBasicMaterial vertexColors side={DoubleSide} />
            </mesh>
          ) : (
            <Plaster key={shown.part.id} mesh={shown.mesh} />
          ),
        )}
      </>
    ),
    [probe, parts, count, across, quantity, maps],
  );
  return (
    <>
      <View3D
        label={tr("Surface")}
        busy={!!form?.body.parts?.length && !parts.length}
        eye={surfaceEye}
        hands={hands}
        overlay={(size) => (
          <svg className="h-full w-full" role="presentation">
            {probe === "stripes" && <StripeDial height={size.height} />}
            {probe === "soundness" && <Findings findings={findings} size={size} />}
            {quantity && <ReadValue quantity={quantity} />}
          </svg>
        )}
      >
        {scene}
      </View3D>
      {quantity && <Legend range={range} unit={unitOf(quantity)} />}
      {form && !form.body.parts?.length && (
        <div className="text-page">
          <FormMissing
            project={props.project}
            title={tr("Nothing to look at yet")}
            says={tr("Here stripes and curvature show a flaw before a highlight does.")}
          />
        </div>
      )}
    </>
  );
}

/** Reads the value under the pointer, once a frame. */
function useValueUnder(parts: Shown[], maps: (CurvatureMap | undefined)[], quantity: Quantity | null) {
  const latest = useRef({ parts, maps, quantity });
  latest.current = { parts, maps, quantity };
  useEffect(() => useSurfaceHand.setState({ under: null }), [quantity, parts]);
  return useMemo(() => {
    let waiting = 0;
    const onHover = (spot: Spot) => {
      if (!latest.current.quantity || waiting) return;
      waiting = requestAnimationFrame(() => {
        waiting = 0;
        const { parts, maps, quantity } = latest.current;
        if (!quantity) return;
        const camera = cameraOf(surfaceEye.now(), spot.width, spot.height);
        useSurfaceHand.setState({ under: valueAt(parts, maps, quantity, spot, camera) });
      });
    };
    return { onHover };
  }, []);
}

/** Where findings are, on the screen. */
function Findings({ findings, size }: { findings: Finding[]; size: { width: number; height: number } }) {
  const orbit = useSurfaceHand((hand) => hand.orbit);
  const place = useSurface((state) => state.place);
  const camera = cameraOf(orbit, size.width, size.height);
  return findings.map((finding) => {
    const [x, y, z] = finding.place;
    const s = onScreen(camera, new Vector3(x, y, z), size.width, size.height);
    const here = place?.every((value, axis) => value === finding.place[axis]);
    return (
      <circle
        key={JSON.stringify(finding.place) + finding.kind}
        cx={s.x}
        cy={s.y}
        r={here ? 12 : 6}
        fill="none"
        stroke="var(--wrong)"
        strokeWidth={here ? 2.5 : 1.5}
      />
    );
  });
}

function ReadValue({ quantity }: { quantity: Quantity }) {
  const under = useSurfaceHand((hand) => hand.under);
  const read = useReading();
  if (!under) return null;
  const radius = quantity === "largest" && Math.abs(under.value) > 1e-6 ? 1 / Math.abs(under.value) : null;
  return (
    <>
      {under.along && (
        <line
          data-testid="bends along"
          x1={under.along[0].x}
          y1={under.along[0].y}
          x2={under.along[1].x}
          y2={under.along[1].y}
          stroke="var(--ink)"
          strokeWidth={2}
        />
      )}
      <text
        x={under.spot.x + 14}
        y={under.spot.y - 10}
        fontWeight={600}
        fill="var(--ink)"
        stroke="var(--paper)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {plain(under.value)} {unitOf(quantity)}
        {radius !== null && radius < 100_000 && tr`, radius ${read.length(radius, 1)}`}
        {under.exact ? "" : tr(" (averaged)")}
      </text>
    </>
  );
}

function direction(around: number, above: number): Vector3 {
  const [a, b] = [(around * Math.PI) / 180, (above * Math.PI) / 180];
  return new Vector3(Math.sin(a) * Math.cos(b), -Math.cos(a) * Math.cos(b), Math.sin(b));
}

/** The value where the pointer's ray meets the surface first. */
function valueAt(
  parts: Shown[],
  maps: (CurvatureMap | undefined)[],
  quantity: Quantity,
  spot: Spot,
  camera: ReturnType<typeof cameraOf>,
): Reading | null {
  const caster = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  let nearest = Number.POSITIVE_INFINITY;
  let found: Reading | null = null;
  parts.forEach(({ mesh }, index) => {
    const map = maps[index];
    const hit = map && caster.intersectObject(new Mesh(mesh.geometry), false)[0];
    if (!map || !hit?.face || hit.distance >= nearest) return;
    nearest = hit.distance;
    const position = mesh.geometry.getAttribute("position") as BufferAttribute;
    const corners = [hit.face.a, hit.face.b, hit.face.c];
    const place = (corner: number) => new Vector3().fromBufferAttribute(position, corner);
    const { a, b, c } = hit.face;
    const shares = Triangle.getBarycoord(hit.point, place(a), place(b), place(c), new Vector3());
    if (!shares) return;
    const value = corners.reduce((sum, corner, k) => sum + shares.getComponent(k) * map[quantity][corner]!, 0);
    const exact = corners.every((corner) => map.exact[corner]! === 1);
    const way = new Vector3(...[0, 1, 2].map((k) => map.along[3 * a + k]! / 127)).multiplyScalar(ALONG * hit.distance);
    const ends = [-1, 1].map((sign) =>
      onScreen(camera, hit.point.clone().addScaledVector(way, sign), spot.width, spot.height),
    );
    found = { value, exact, spot, along: quantity === "largest" && exact ? [ends[0]!, ends[1]!] : null };
  });
  return found;
}

/** Half the length of the line that tells a direction, as a share of the distance it is seen from. */
const ALONG = 0.025;

function Legend({ range, unit }: { range: number; unit: string }) {
  const steps = 24;
  const css = Array.from({ length: steps + 1 }, (_, k) => {
    const colour = colourOf(range - (2 * range * k) / steps, range).map((c) => Math.round(c * 255));
    return `rgb(${colour.join(",")})`;
  }).join(",");
  return (
    <div
      role="img"
      aria-label={tr`Legend from ${plain(-range)} to ${plain(range)} ${unit}`}
      className="absolute top-6 right-6 flex gap-2 bg-paper px-3 py-2.5"
    >
      <div data-pigment className="h-40 w-3" style={{ background: `linear-gradient(${css})` }} />
      <div className="flex flex-col justify-between text-[0.92rem]">
        <span>
          {plain(range)} {unit}
          {tr(", bulging")}
        </span>
        <span>{tr("0, flat")}</span>
        <span>
          {plain(-range)}, {unit === "1/mm" ? tr("hollow") : tr("saddle")}
        </span>
      </div>
    </div>
  );
}
