import { useQuery } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { type BufferAttribute, DoubleSide, Mesh, Vector3 } from "three";
import { answer, api, type Shapes } from "../../api/client";
import { at, useForm } from "../../api/queries";
import type { StageProps } from "../../bench/Bench";
import type { Command } from "../../bench/commands";
import { useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { Button, Card, NumberField, Row, SliderField } from "../../ui/controls";
import { cameraOf, lookFrom, onScreen, rayAt, type Side } from "../../view3d/orbit";
import { Daylight, Plaster } from "../../view3d/Plaster";
import { useAddressedOrbit } from "../../view3d/useAddressedOrbit";
import { extentOf, type Shown, useSkins } from "../../view3d/useParts";
import { type Spot, View3D } from "../../view3d/View3D";
import { type CurvatureMap, colourOf, paint, plain, type Quantity, useCurvature } from "./curvature";
import { StripeDial } from "./StripeDial";
import { Striped } from "./Striped";
import { useSurface } from "./store";

type Finding = Shapes["FindingShape"];

/** Surface: is it good enough to look at? */
export default function SurfaceStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const go = useBench((bench) => bench.go);
  const state = useSurface();
  const { set, probe } = state;
  const parts = useSkins(project, row.id, data);
  const quantity: Quantity | null = probe === "mean" || probe === "gaussian" ? probe : null;
  const maps = useCurvature(project, row.id, parts, quantity !== null);
  const [under, setUnder] = useState<{ value: number; exact: boolean; part: string; spot: Spot } | null>(null);
  const across = useMemo(() => direction(state.around, state.above), [state.around, state.above]);

  useAddressedOrbit("Surface", state.orbit, data, parts, set);

  // small rings and knobs bend far more than the body: the legend follows the largest part until it is set by hand
  const range = useMemo(() => {
    if (!quantity) return 1;
    const extents = parts.map((shown) => extentOf([shown]).extent);
    return state.ends[quantity] ?? maps[extents.indexOf(Math.max(...extents))]?.meta[quantity] ?? 1;
  }, [parts, maps, quantity, state.ends]);
  useMemo(() => {
    parts.forEach((shown, index) => {
      const map = maps[index];
      if (quantity && map && map[quantity].length * 3 === shown.mesh.positions.length)
        paint(shown, map[quantity], range);
    });
  }, [parts, maps, quantity, range]);

  const soundness = useQuery({
    queryKey: ["soundness", row.id, data?.standing.head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/soundness", at(project, row.id))),
    enabled: probe === "soundness" && !!data,
  });
  const findings = soundness.data?.parts.flatMap((part) => part.findings) ?? [];

  const waiting = useRef(0);
  const read = (spot: Spot) => {
    if (!quantity || waiting.current) return;
    waiting.current = requestAnimationFrame(() => {
      waiting.current = 0;
      setUnder(valueAt(parts, maps, quantity, spot, cameraOf(state.orbit, spot.width, spot.height)));
    });
  };
  const fly = (finding: Finding) => {
    const { extent } = extentOf(parts);
    const near = lookFrom("three-quarter", finding.place as [number, number, number], extent * 0.3);
    set({ place: finding.place as [number, number, number], orbit: near });
  };
  const look = (side: Side) => {
    const { target, extent } = extentOf(parts);
    set({ orbit: lookFrom(side, target, extent), place: null });
  };

  const stripeOptions = (
    <>
      <SliderField
        label="Count"
        value={state.count}
        min={2}
        max={60}
        onChange={(count) => set({ count })}
        onSlide={(count) => set({ count })}
      />
      <SliderField
        label="Around"
        value={state.around}
        min={-180}
        max={180}
        onChange={(around) => set({ around })}
        onSlide={(around) => set({ around })}
      />
      <SliderField
        label="Above"
        value={state.above}
        min={-90}
        max={90}
        onChange={(above) => set({ above })}
        onSlide={(above) => set({ above })}
      />
    </>
  );
  const commands: Command[] = [
    {
      id: "stripes",
      name: "Stripes",
      group: "Look for flaws",
      key: "z",
      active: probe === "stripes",
      options: stripeOptions,
      run: () => set({ probe: "stripes" }),
    },
    {
      id: "mean",
      name: "Mean curvature",
      group: "Look for flaws",
      key: "m",
      active: probe === "mean",
      run: () => set({ probe: "mean" }),
    },
    {
      id: "gaussian",
      name: "Gaussian curvature",
      group: "Look for flaws",
      key: "g",
      active: probe === "gaussian",
      run: () => set({ probe: "gaussian" }),
    },
    {
      id: "soundness",
      name: "Soundness",
      group: "Check",
      key: "c",
      active: probe === "soundness",
      run: () => set({ probe: "soundness" }),
    },
    { id: "look-3", name: "Three-quarter", group: "Look", key: "v", run: () => look("three-quarter") },
    { id: "look-front", name: "Front", group: "Look", key: "a", run: () => look("front") },
    { id: "look-side", name: "Side", group: "Look", key: "s", run: () => look("side") },
    { id: "look-top", name: "Top", group: "Look", key: "d", run: () => look("top") },
  ];
  const size = useQuery({
    queryKey: ["size", row.id, data?.standing.head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/size", at(project, row.id))),
    enabled: !!data,
  });

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={
        <>
          <View3D
            label="Surface"
            busy={!!data?.body.parts?.length && !parts.length}
            orbit={state.orbit}
            onOrbit={(orbit) => set({ orbit })}
            hands={{ onHover: read }}
            overlay={(box) => (
              <svg className="h-full w-full" role="presentation">
                {probe === "stripes" && <StripeDial height={box.height} />}
                {probe === "soundness" &&
                  findings.map((finding) => {
                    const s = onScreen(
                      cameraOf(state.orbit, box.width, box.height),
                      new Vector3(...(finding.place as [number, number, number])),
                      box.width,
                      box.height,
                    );
                    const here = state.place?.every((value, axis) => value === finding.place[axis]);
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
                  })}
                {under && (
                  <text
                    x={under.spot.x + 14}
                    y={under.spot.y - 10}
                    fontWeight={600}
                    fill="var(--ink)"
                    stroke="var(--paper)"
                    strokeWidth={4}
                    paintOrder="stroke"
                  >
                    {plain(under.value)} {probe === "mean" ? "1/mm" : "1/mm²"}
                    {under.exact ? "" : " (averaged)"}
                  </text>
                )}
              </svg>
            )}
          >
            {probe === "soundness" && <Daylight />}
            {parts.map((shown, index) =>
              probe === "stripes" ? (
                <Striped key={shown.part.id} mesh={shown.mesh} count={state.count} across={across} />
              ) : quantity && maps[index] ? (
                <mesh key={shown.part.id + quantity} geometry={shown.mesh.geometry}>
                  <meshBasicMaterial vertexColors side={DoubleSide} />
                </mesh>
              ) : (
                <Plaster key={shown.part.id} mesh={shown.mesh} />
              ),
            )}
          </View3D>
          {quantity && <Legend range={range} unit={quantity === "mean" ? "1/mm" : "1/mm²"} />}
          {data && !data.body.parts?.length && (
            <div className="absolute inset-x-0 top-[36%] text-center text-page">
              <p className="font-semibold font-serif text-[1.6rem]">Nothing to look at yet</p>
              <p className="mb-4">Here stripes and curvature show a flaw before a highlight does.</p>
              <Button onClick={() => go("Form")}>Begin a form</Button>
            </div>
          )}
        </>
      }
      inspector={
        <>
          {probe === "stripes" && (
            <Card title="Stripes">
              <p className="text-quiet">
                Bands of light in the mirror of the surface. A band that breaks shows a kink, one that bends sharply a
                jump in curvature.
              </p>
              <NumberField label="Count" value={state.count} min={2} max={60} onChange={(count) => set({ count })} />
              <NumberField
                label="Around"
                value={state.around}
                min={-180}
                max={180}
                unit="°"
                onChange={(around) => set({ around })}
              />
              <NumberField
                label="Above"
                value={state.above}
                min={-90}
                max={90}
                unit="°"
                onChange={(above) => set({ above })}
              />
            </Card>
          )}
          {quantity && (
            <CurvatureCard
              quantity={quantity}
              range={range}
              maps={maps}
              parts={parts}
              chosen={state.ends[quantity] !== null}
              onRange={(end) => set({ ends: { ...state.ends, [quantity]: end } })}
            />
          )}
          {probe === "soundness" && (
            <SoundnessCard answer={soundness.data?.parts ?? []} busy={soundness.isFetching} onFly={fly} />
          )}
        </>
      }
      foot={
        size.data && (
          <>
            <b className="font-medium text-ink">
              {size.data.width.toFixed(1)} × {size.data.depth.toFixed(1)} × {size.data.height.toFixed(1)} mm
            </b>
            <span>{size.data.parts} parts</span>
            <span>{size.data.faces} faces</span>
          </>
        )
      }
    />
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
): { value: number; exact: boolean; part: string; spot: Spot } | null {
  const caster = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  let nearest = Number.POSITIVE_INFINITY;
  let found = null;
  parts.forEach(({ part, mesh }, index) => {
    const map = maps[index];
    const hit = map && caster.intersectObject(new Mesh(mesh.geometry), false)[0];
    if (!map || !hit?.face || hit.distance >= nearest) return;
    nearest = hit.distance;
    const position = mesh.geometry.getAttribute("position") as BufferAttribute;
    const corners = [hit.face.a, hit.face.b, hit.face.c];
    const spots = corners.map((corner) => new Vector3().fromBufferAttribute(position, corner));
    const whole = spots[1].clone().sub(spots[0]).cross(spots[2].clone().sub(spots[0])).length();
    const value = corners.reduce((sum, corner, k) => {
      const [p, q] = [spots[(k + 1) % 3], spots[(k + 2) % 3]];
      const share = p.clone().sub(hit.point).cross(q.clone().sub(hit.point)).length() / Math.max(whole, 1e-12);
      return sum + share * map[quantity][corner];
    }, 0);
    found = { value, exact: corners.every((corner) => map.exact[corner] === 1), part: part.name, spot };
  });
  return found;
}

function Legend({ range, unit }: { range: number; unit: string }) {
  const steps = 24;
  const css = Array.from({ length: steps + 1 }, (_, k) => {
    const colour = colourOf(range - (2 * range * k) / steps, range).map((c) => Math.round(c * 255));
    return `rgb(${colour.join(",")})`;
  }).join(",");
  return (
    <div
      role="img"
      aria-label={`Legend from ${plain(-range)} to ${plain(range)} ${unit}`}
      className="absolute top-6 right-6 flex gap-2 bg-paper px-3 py-2.5"
    >
      <div className="h-40 w-3" style={{ background: `linear-gradient(${css})` }} />
      <div className="flex flex-col justify-between text-[0.92rem]">
        <span>
          {plain(range)} {unit}, bulging
        </span>
        <span>0, flat</span>
        <span>
          {plain(-range)}, {unit === "1/mm" ? "hollow" : "saddle"}
        </span>
      </div>
    </div>
  );
}

function CurvatureCard(props: {
  quantity: Quantity;
  range: number;
  maps: (CurvatureMap | undefined)[];
  parts: Shown[];
  chosen: boolean;
  onRange: (end: number | null) => void;
}) {
  const { quantity, range, maps, parts, chosen, onRange } = props;
  const unit = quantity === "mean" ? "1/mm" : "1/mm²";
  return (
    <Card title={quantity === "mean" ? "Mean curvature" : "Gaussian curvature"} aside={unit}>
      {parts.map(({ part }, index) => {
        const values = maps[index]?.[quantity];
        if (!values) return null;
        let [low, high] = [Infinity, -Infinity];
        for (const value of values) {
          low = Math.min(low, value);
          high = Math.max(high, value);
        }
        return (
          <Row key={part.id} label={part.name}>
            {plain(low)} to {plain(high)}
          </Row>
        );
      })}
      <NumberField
        label="Legend ends at"
        value={range}
        min={0.00001}
        max={100}
        step={quantity === "mean" ? 0.005 : 0.0005}
        digits={quantity === "mean" ? 3 : 5}
        unit={unit}
        onChange={onRange}
      />
      {chosen && (
        <Button weight="quiet" onClick={() => onRange(null)}>
          Follow the largest part
        </Button>
      )}
      {quantity === "mean" && <Row label="Radius at the legend’s end">{(1 / range).toFixed(1)} mm</Row>}
      <p className="pt-1 text-quiet">
        Exact from the limit surface; at odd points, where curvature is not defined, the mean of the neighbours.
      </p>
    </Card>
  );
}

function SoundnessCard(props: {
  answer: Shapes["SoundnessShape"][];
  busy: boolean;
  onFly: (finding: Finding) => void;
}) {
  if (props.busy) return <Card title="Soundness">Checking…</Card>;
  return (
    <>
      {props.answer.map((part) => {
        const total = Object.values(part.counts).reduce((sum, count) => sum + count, 0);
        return (
          <Card key={part.part} title={part.name} aside={total === 0 ? "sound" : `${total} to look at`}>
            <Row label="Closed">{part.closed ? "yes" : "no"}</Row>
            <Row label="Manifold">{part.manifold ? "yes" : "no"}</Row>
            <Row label="Faces turn one way">{part.consistent ? "yes" : "no"}</Row>
            <Row label="Slivers">{part.counts.sliver}</Row>
            <Row label="Crossings">{part.counts.crossing}</Row>
            <ul>
              {part.findings.map((finding) => (
                <li key={JSON.stringify(finding)}>
                  <button
                    type="button"
                    onClick={() => props.onFly(finding)}
                    className="py-0.5 text-left text-warn hover:underline"
                  >
                    {finding.sentence}
                  </button>
                </li>
              ))}
            </ul>
          </Card>
        );
      })}
    </>
  );
}
