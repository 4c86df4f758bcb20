import { useEffect, useMemo, useRef, useState } from "react";
import { type BufferAttribute, Mesh, Triangle, Vector3 } from "three";
import type { Shapes } from "../../api/client";
import type { Spot } from "../../ui/pointing";
import { cameraOf, onScreen, rayAt } from "../../view3d/orbit";
import { Daylight, Plaster } from "../../view3d/Plaster";
import { Mapped } from "../../view3d/probing/Mapped";
import { Striped } from "../../view3d/probing/Striped";
import type { Range } from "../../view3d/probing/scales";
import { extentOf, type Shown } from "../../view3d/useParts";
import { View3D } from "../../view3d/View3D";
import { tr } from "../../words/words";
import { type Combed, eyePlace, type LightLines, useLightLines } from "./asked";
import { combOf } from "./combing";
import { LightDial } from "./LightDial";
import type { ValueMap } from "./maps";
import { FindingMarks, Legend, ReadValue } from "./overlays";
import { SectionKnob } from "./SectionKnob";
import {
  directionOf,
  lineKind,
  type Place,
  type Probe,
  quantityOf,
  type Reading,
  surfaceEye,
  useSurface,
  useSurfaceHand,
} from "./store";
import { Marks, piecesOf, type Stroke, Traced } from "./Traced";
import { useFiner } from "./useFiner";

export interface PaneProps {
  project: string;
  form: string;
  probe: Probe;
  label: string;
  parts: Shown[];
  maps: (ValueMap | undefined)[] | null;
  range: Range | null;
  combed: Combed | null;
  /** What is drawn in a view, beside the form. */
  outline: Shapes["OutlineAnswer"] | null;
  checks: Shapes["ChecksAnswer"] | undefined;
  balance: Shapes["BalanceAnswer"] | undefined;
  findings: readonly { place: Place; wrong: boolean; name: string }[];
  busy: boolean;
}

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** The form as one probe shows it. */
export function ProbePane(props: PaneProps) {
  const { project, form, probe, parts, maps, range, combed, checks, outline } = props;
  const state = useSurface();
  const { count, around, above, combScale, combShare, set } = state;
  const combOfPart = probe === "sections" ? (state.combOf ?? largest(parts)) : null;
  const lit = probe === "stripes" ? { around, above } : { around: state.lightAround, above: state.lightAbove };
  const across = useMemo(() => new Vector3(...directionOf(lit.around, lit.above)), [lit.around, lit.above]);
  const { target, extent } = useMemo(() => extentOf(parts), [parts]);
  const keys = useMemo(() => parts.map(({ mesh }) => mesh.meta.key).join(), [parts]);
  const kind = lineKind(probe);
  const eye = useRestingEye(kind === "reflection");
  const lines = useLightLines(project, form, keys, kind, state, eye);
  const under = useRef<((reading: Reading | null) => void) | null>(null);
  const hands = useHands(parts, maps, probe, under);
  const polished = probe === "stripes" || probe === "polished";
  const geometries = useFiner(project, form, parts, polished);

  const scene = useMemo(() => {
    if (probe === "stripes" || probe === "polished")
      return geometries.map((geometry, index) => (
        <Striped key={`${index} ${geometry.uuid}`} geometry={geometry} count={count} across={across} look={probe} />
      ));
    const waiting = !maps || maps.some((map) => !map);
    return (
      <>
        {waiting && <Daylight />}
        {parts.map(({ part, mesh }, index) =>
          maps?.[index] && range && maps[index].values.length * 3 === mesh.positions.length ? (
            <Mapped key={part.id + probe} mesh={mesh} map={maps[index]} range={range} />
          ) : (
            <Plaster key={part.id} mesh={mesh} />
          ),
        )}
      </>
    );
  }, [probe, parts, geometries, count, across, maps, range]);
  const over = useMemo(() => {
    if (lines && kind) return <LightStrokes lines={lines} />;
    if ((probe === "sections" || probe === "combs") && combed)
      return <Comb combed={combed} of={combOfPart} extent={extent} scale={combScale} share={combShare} />;
    if (probe === "continuity" && checks) return <Seams seams={checks.seams} />;
    if (probe === "draft" && maps) return maps.map((map, index) => map?.lines && <Parting key={index} map={map} />);
    return null;
  }, [lines, kind, probe, combed, combOfPart, extent, combScale, combShare, checks, maps]);
  const drawn = useMemo(
    () => (
      <>
        {scene}
        {over}
        {outline && <DrawnBeside outline={outline} />}
      </>
    ),
    [scene, over, outline],
  );
  return (
    <>
      <View3D
        label={props.label}
        busy={props.busy}
        eye={surfaceEye}
        hands={hands}
        overlay={(size) => (
          <svg className="h-full w-full" role="presentation">
            {(polished || kind) && (
              <LightDial
                height={size.height}
                around={lit.around}
                above={lit.above}
                count={kind ? state.lights : count}
                least={kind ? 1 : 2}
                most={60}
                what={kind ? tr("lines") : probe === "stripes" ? tr("stripes") : tr("lamps")}
                onTurn={(around, above) =>
                  set(probe === "stripes" ? { around, above } : { lightAround: around, lightAbove: above })
                }
                onCount={(count) => set(kind ? { lights: count } : { count })}
              />
            )}
            {probe === "sections" && <SectionKnob size={size} middle={target} />}
            <FindingMarks marks={props.findings} size={size} />
            {probe === "balance" && props.balance?.centre && <Centre place={props.balance.centre} size={size} />}
            {maps && <ReadValue probe={probe} follow={under} />}
          </svg>
        )}
      >
        {drawn}
      </View3D>
      {range && <Legend range={range} probe={probe} />}
    </>
  );
}

/** The part that reaches furthest. */
function largest(parts: Shown[]): string | null {
  const extents = parts.map((shown) => extentOf([shown]).extent);
  return parts[extents.indexOf(Math.max(...extents))]?.part.id ?? null;
}

/** Where the eye came to rest; while it moves, where it was. */
function useRestingEye(on: boolean): Place {
  const [eye, setEye] = useState<Place>(eyePlace);
  useEffect(() => {
    if (!on) return;
    setEye(eyePlace());
    let frame = 0;
    const stop = surfaceEye.follow(() => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => setEye(eyePlace()));
    });
    return () => {
      cancelAnimationFrame(frame);
      stop();
    };
  }, [on]);
  return eye;
}

function LightStrokes({ lines }: { lines: LightLines }) {
  const pieces = useMemo(() => piecesOf(lines), [lines]);
  return <Traced pieces={pieces} colour={token("--drawn")} width={1.8} />;
}

function Comb(props: { combed: Combed; of: string | null; extent: number; scale: number; share: number }) {
  const { combed, of, extent, scale, share } = props;
  const along = useMemo(() => piecesOf(combed), [combed]);
  const { teeth, tips, marks } = useMemo(
    () => combOf(combed, extent, scale, share, of),
    [combed, extent, scale, share, of],
  );
  return (
    <>
      <Traced pieces={teeth} colour={token("--drawn-pick")} width={1} over />
      <Traced pieces={tips} colour={token("--drawn-pick")} width={1.6} over />
      <Traced pieces={along} colour={token("--drawn")} width={2} over />
      <Marks places={marks} colour={token("--drawn-wrong")} />
    </>
  );
}

const STROKES: Record<Shapes["SeamShape"]["verdict"], [stroke: Stroke, colour: string, width: number]> = {
  within: ["solid", "--drawn-act", 1.6],
  near: ["dashed", "--drawn-warn", 2.4],
  beyond: ["dotted", "--drawn-wrong", 3.4],
  edge: ["solid", "--drawn", 1.2],
};

/** Seams by verdict: told by pattern and width as well as by colour. */
function Seams({ seams }: { seams: Shapes["SeamShape"][] }) {
  const groups = useMemo(
    () =>
      (["edge", "within", "near", "beyond"] as const).map((verdict) => {
        const of = seams.filter((seam) => seam.verdict === verdict && seam.kind !== "around");
        const pieces: number[] = [];
        for (const { places } of of)
          for (let k = 1; k < places.length; k++) pieces.push(...(places[k - 1] as Place), ...(places[k] as Place));
        return [verdict, Float32Array.from(pieces)] as const;
      }),
    [seams],
  );
  const odd = useMemo(
    () =>
      Float32Array.from(seams.filter(({ kind }) => kind === "around").flatMap(({ jump }) => jump.place as number[])),
    [seams],
  );
  return (
    <>
      {groups.map(([verdict, pieces]) => {
        const [stroke, colour, width] = STROKES[verdict];
        // what is wrong is seen through the parts before it too
        const over = verdict === "near" || verdict === "beyond";
        return (
          <Traced key={verdict} pieces={pieces} colour={token(colour)} width={width} stroke={stroke} over={over} />
        );
      })}
      <Marks places={odd} colour={token("--drawn")} size={5} />
    </>
  );
}

/** A bridge from every place that is drawn to what of the form is nearest. */
function DrawnBeside({ outline }: { outline: Shapes["OutlineAnswer"] }) {
  const [bridges, drawn] = useMemo(() => {
    const pieces = outline.stands.flatMap((place, k) => [...(place as Place), ...(outline.places[k] as Place)]);
    return [Float32Array.from(pieces), Float32Array.from(outline.stands.flat() as number[])] as const;
  }, [outline]);
  return (
    <>
      <Traced pieces={bridges} colour={token("--drawn-warn")} width={1.4} over />
      <Marks places={drawn} colour={token("--drawn-wrong")} size={2.5} />
    </>
  );
}

function Parting({ map }: { map: ValueMap }) {
  const pieces = useMemo(() => piecesOf(map.lines!), [map]);
  return <Traced pieces={pieces} colour={token("--drawn")} width={2.2} />;
}

/** The centre of mass, seen through the form. */
function Centre({ place, size }: { place: number[]; size: { width: number; height: number } }) {
  const orbit = useSurfaceHand((hand) => hand.orbit);
  const s = onScreen(
    cameraOf(orbit, size.width, size.height),
    new Vector3(...(place as Place)),
    size.width,
    size.height,
  );
  return (
    <g>
      <title>{tr("Centre of mass")}</title>
      <circle cx={s.x} cy={s.y} r={9} fill="var(--paper)" stroke="var(--ink)" strokeWidth={1.5} />
      <path
        d={`M${s.x} ${s.y}V${s.y - 9}A9 9 0 0 1 ${s.x + 9} ${s.y}ZM${s.x} ${s.y}V${s.y + 9}A9 9 0 0 1 ${s.x - 9} ${s.y}Z`}
        fill="var(--ink)"
      />
    </g>
  );
}

/** Reads the value under the pointer, once a frame; a click with row combs chooses the row. */
function useHands(
  parts: Shown[],
  maps: (ValueMap | undefined)[] | null,
  probe: Probe,
  under: React.RefObject<((reading: Reading | null) => void) | null>,
) {
  const latest = useRef({ parts, maps, probe });
  latest.current = { parts, maps, probe };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was read of another map is not shown over this one
  useEffect(() => under.current?.(null), [probe, parts, maps]);
  return useMemo(() => {
    let waiting = 0;
    const onHover = (spot: Spot) => {
      if (!latest.current.maps || waiting) return;
      waiting = requestAnimationFrame(() => {
        waiting = 0;
        const { parts, maps, probe } = latest.current;
        if (maps) under.current?.(valueAt(parts, maps, probe, spot));
      });
    };
    const onClick = (spot: Spot) => {
      const { parts, probe } = latest.current;
      if (probe !== "combs") return;
      const hit = placeAt(parts, spot);
      if (hit) useSurface.getState().set({ row: { part: hit.part, place: hit.place } });
    };
    return { onHover, onClick };
  }, [under]);
}

interface Hit {
  index: number;
  part: string;
  place: Place;
  corners: [number, number, number];
  distance: number;
}

/** What of the form the pointer's ray meets first. */
function placeAt(parts: Shown[], spot: Spot): Hit | null {
  const camera = cameraOf(surfaceEye.now(), spot.width, spot.height);
  const caster = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  let found: Hit | null = null;
  parts.forEach(({ part, mesh }, index) => {
    const hit = caster.intersectObject(new Mesh(mesh.geometry), false)[0];
    if (!hit?.face || (found && hit.distance >= found.distance)) return;
    const { a, b, c } = hit.face;
    found = { index, part: part.id, place: hit.point.toArray() as Place, corners: [a, b, c], distance: hit.distance };
  });
  return found;
}

/** The value where the pointer's ray meets the surface first. */
function valueAt(parts: Shown[], maps: (ValueMap | undefined)[], probe: Probe, spot: Spot): Reading | null {
  const hit = placeAt(parts, spot);
  const map = hit && maps[hit.index];
  if (!hit || !map) return null;
  const camera = cameraOf(surfaceEye.now(), spot.width, spot.height);
  const position = parts[hit.index]!.mesh.geometry.getAttribute("position") as BufferAttribute;
  const [a, b, c] = hit.corners.map((corner) => new Vector3().fromBufferAttribute(position, corner)) as [
    Vector3,
    Vector3,
    Vector3,
  ];
  const point = new Vector3(...hit.place);
  const shares = Triangle.getBarycoord(point, a, b, c, new Vector3());
  if (!shares) return null;
  const value = hit.corners.reduce((sum, corner, k) => sum + shares.getComponent(k) * map.values[corner]!, 0);
  const exact = !map.exact || hit.corners.every((corner) => map.exact![corner]! === 1);
  const first = 3 * hit.corners[0];
  const way =
    map.along &&
    new Vector3(...[0, 1, 2].map((k) => map.along![first + k]! / 127)).multiplyScalar(ALONG * hit.distance);
  const ends = [-1, 1].map((sign) =>
    onScreen(camera, point.clone().addScaledVector(way ?? new Vector3(), sign), spot.width, spot.height),
  );
  const told = way && way.lengthSq() > 0 && quantityOf(probe) !== null;
  return { value, exact: exact || map.estimate, spot, along: told ? [ends[0]!, ends[1]!] : null };
}

/** Half the length of the line that tells a direction, as a share of the distance it is seen from. */
const ALONG = 0.025;
