import { useThree } from "@react-three/fiber";
import { useCallback, useEffect, useLayoutEffect, useMemo, useState } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  type Camera,
  DoubleSide,
  type Material,
  SRGBColorSpace,
  type Texture,
  TextureLoader,
  Vector3,
} from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { Shapes } from "../../api/client";
import { useSheet } from "../../api/queries";
import { eyeOf, inPerspective, placesOf } from "./sketchView";

const INK = "#211d18";

type Rect = [number, number, number, number];

const NORMALS = { front: new Vector3(0, 1, 0), side: new Vector3(1, 0, 0), top: new Vector3(0, 0, 1) };

/** A sheet's view where it belongs, over the model so that it stays readable; follows the sheet as it changes. */
export function ReferencePlane(props: {
  project: string;
  reference: Shapes["Reference"];
  /** The view's lines where it stands, for its outline. */
  lines?: Float32Array[];
  /** Nothing stands before it. */
  alone: boolean;
}) {
  const { reference } = props;
  const { data } = useSheet(props.project, reference.sheet);
  const invalidate = useThree((three) => three.invalidate);
  const [texture, setTexture] = useState<Texture | null>(null);
  const view = data?.body.views.find((candidate) => candidate.id === reference.view);
  const head = data?.standing.head;
  const there = view !== undefined;
  useEffect(() => {
    if (!there) return;
    let gone = false;
    const address = `/api/projects/${props.project}/sheets/${reference.sheet}/views/${reference.view}.png?head=${head}`;
    new TextureLoader().load(address, (loaded) => {
      if (gone) return;
      loaded.colorSpace = SRGBColorSpace;
      setTexture(loaded);
      invalidate();
    });
    return () => {
      gone = true;
    };
  }, [props.project, reference.sheet, reference.view, head, there, invalidate]);
  useEffect(() => invalidate(), [reference, texture, data, invalidate]);
  if (!data || !view || !texture || reference.visible === false) return null;
  if (reference.plane === "sketch") {
    if (!inPerspective(data.body, view.rect as Rect)) return null;
    return (
      <InPerspective sheet={data.body} rect={view.rect as Rect} texture={texture} opacity={reference.opacity ?? 0.5} />
    );
  }
  if (reference.outline && props.lines) return <Outline lines={props.lines} opacity={reference.opacity ?? 0.5} />;
  return (
    <SquareOn
      reference={reference}
      rect={view.rect as Rect}
      texture={texture}
      lines={props.lines}
      alone={props.alone}
    />
  );
}

/** The look of every reference: see-through, over the model; `clear` says how much of it shows from a camera. */
function Look(props: { texture: Texture; opacity: number }) {
  return (
    <meshBasicMaterial
      map={props.texture}
      transparent
      opacity={props.opacity}
      side={DoubleSide}
      depthTest={false}
      depthWrite={false}
    />
  );
}

function fading(clear: (camera: Camera) => number) {
  return (_renderer: unknown, _scene: unknown, camera: Camera, _geometry: unknown, material: Material) => {
    material.opacity = Math.max(0, Math.min(1, clear(camera)));
  };
}

/** Screen px a drawn line is wide, however far away one is. */
const LEGIBLE = 1.2;
/** Pieces of a line overlap where they meet, so it is laid paler than a picture of it would be. */
const PALER = 0.5;

/** The drawn lines, as wide on the screen from near and far. */
function Outline(props: { lines: Float32Array[]; opacity: number; onBeforeRender?: ReturnType<typeof fading> }) {
  const made = useMemo(() => {
    const pieces: number[] = [];
    for (const line of props.lines) {
      for (let k = 3; k < line.length; k += 3) pieces.push(...line.subarray(k - 3, k + 3));
    }
    const geometry = new LineSegmentsGeometry();
    geometry.setPositions(pieces);
    const look = { color: INK, linewidth: LEGIBLE, transparent: true, depthTest: false, depthWrite: false };
    return new LineSegments2(geometry, new LineMaterial(look));
  }, [props.lines]);
  useEffect(
    () => () => {
      made.geometry.dispose();
      made.material.dispose();
    },
    [made],
  );
  // before anything is drawn of it: an effect may come a frame later, and nothing asks for another one
  useLayoutEffect(() => {
    made.renderOrder = 2;
    made.material.opacity = props.opacity * PALER;
    // lines of this kind are told the size of the canvas by what draws them
    const draws = LineSegments2.prototype.onBeforeRender;
    const fades = props.onBeforeRender;
    made.onBeforeRender = (...given: Parameters<typeof draws>) => {
      draws.apply(made, [given[0]] as unknown as Parameters<typeof draws>);
      fades?.(...(given as unknown as Parameters<NonNullable<typeof fades>>));
    };
  }, [made, props.opacity, props.onBeforeRender]);
  return <primitive object={made} />;
}

function SquareOn(props: {
  reference: Shapes["Reference"];
  rect: Rect;
  texture: Texture;
  lines: Float32Array[] | undefined;
  alone: boolean;
}) {
  const { reference, texture } = props;
  const plane = reference.plane as "front" | "side" | "top";
  const [left, top, right, bottom] = props.rect;
  const [[ax, ay], [bx, by]] = reference.line as [[number, number], [number, number]];
  const scale = reference.length / Math.hypot(bx - ax, by - ay);
  const across = ((left + right) / 2 - (ax + bx) / 2) * scale;
  const upward = ((ay + by) / 2 - (top + bottom) / 2) * scale;
  const turns = { front: [Math.PI / 2, 0, 0], side: [Math.PI / 2, Math.PI / 2, 0], top: [0, 0, 0] } as const;
  const places = { front: [across, 0, upward], side: [0, across, upward], top: [across, upward, 0] } as const;
  const opacity = reference.opacity ?? 0.5;
  // clear when seen square-on, gone when seen along its plane; over a form it is gone sooner
  const from = props.alone ? 0.3 : 0.8;
  const clearness = useCallback(
    (camera: Camera) => {
      const facing = Math.abs(camera.getWorldDirection(new Vector3()).dot(NORMALS[plane]));
      return opacity * Math.max(0, Math.min(1, (facing - from) / 0.18));
    },
    [opacity, plane, from],
  );
  const paler = useMemo(() => fading((camera) => PALER * clearness(camera)), [clearness]);
  const clear = useMemo(() => fading(clearness), [clearness]);
  return (
    <>
      <mesh onBeforeRender={clear} position={places[plane]} rotation={[...turns[plane]]} renderOrder={2}>
        <planeGeometry args={[(right - left) * scale, (bottom - top) * scale]} />
        <Look texture={texture} opacity={opacity} />
      </mesh>
      {props.lines && <Outline lines={props.lines} opacity={opacity} onBeforeRender={paler} />}
    </>
  );
}

function InPerspective(props: { sheet: Shapes["SheetOutline"]; rect: Rect; texture: Texture; opacity: number }) {
  const { sheet, rect, texture, opacity } = props;
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    const corners = placesOf(sheet, rect).flatMap((corner) => corner.toArray());
    made.setAttribute("position", new BufferAttribute(new Float32Array(corners), 3));
    made.setAttribute("uv", new BufferAttribute(new Float32Array([0, 1, 1, 1, 1, 0, 0, 0]), 2));
    made.setIndex([0, 2, 1, 0, 3, 2]);
    return made;
  }, [sheet, rect]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const eye = eyeOf(sheet);
  return (
    <mesh
      geometry={geometry}
      onBeforeRender={fading((camera) => {
        // it lies over the model only as seen from where it was drawn
        const away = camera.position.distanceTo(eye) / eye.length();
        return opacity * (1 - away / 0.5);
      })}
      renderOrder={2}
      frustumCulled={false}
    >
      <Look texture={texture} opacity={opacity} />
    </mesh>
  );
}
