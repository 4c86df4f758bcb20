import { Canvas, useThree } from "@react-three/fiber";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  CustomToneMapping,
  DoubleSide,
  Matrix4,
  PCFShadowMap,
  PerspectiveCamera,
  type Texture,
  Vector3,
} from "three";
import { type Shapes, send } from "../../../api/client";
import "../../../view3d/display";
import { useGeometry } from "../../../view3d/useGeometry";
import type { Shown } from "../../../view3d/useParts";
import type { Setting } from "../kinds";
import { useStudioHand } from "../store";
import { AreaLamps, LampsContext } from "./areaLamps";
import { ContactShadow } from "./ContactShadow";
import { FOLLOWS, LightAround, type Lit, WORTH } from "./LightAround";
import { Marks } from "./Marks";
import { PartSkin } from "./PartSkin";
import { Pieces } from "./Pieces";
import { shellOf, textureOf } from "./shell";

type Staging = Shapes["StagingShape"];
type Three = [number, number, number];

interface PreviewProps {
  project: string;
  form: string;
  setting: Setting;
  staging: Staging;
  parts: Shown[];
  alone: string | null;
  /** The zone whose faces are picked now. */
  picked: string | null;
  aspect: number;
  /** A hand is dragging: better coarse and at once than fine and late. */
  moving: boolean;
}

/** Colour behind where there is no set: what is transparent in the picture is shown in the grey of the surround. */
const BARE: Record<string, number> = { white: 1, black: 0, through: 0.2 };

/** The set at once: lamps and surround as a reflected environment, the key's shadow, the same display transform as a take. */
export function StudioPreview(props: PreviewProps) {
  const { staging, parts, moving } = props;
  const [slow, setSlow] = useState(false);
  const [fast, setFast] = useState(false);
  const lamps = useMemo(() => new AreaLamps(), []);
  const count = shiningIn(staging).length;
  const lit = useMemo(() => lamps.lighting(count, fast), [lamps, count, fast]);
  const map = useMap(props);
  const hidden = props.setting.hidden;
  const place = { project: props.project, form: props.form, setting: props.setting };
  const seen = useMemo(() => parts.filter(({ part }) => !hidden?.includes(part.id)), [parts, hidden]);
  useEffect(() => useStudioHand.setState({ shed: slow && moving }), [slow, moving]);
  return (
    <Canvas
      frameloop="demand"
      dpr={Math.min(devicePixelRatio, 1) * (slow && moving ? 0.5 : 1)}
      shadows={{ type: PCFShadowMap }}
      gl={{ antialias: true, toneMapping: CustomToneMapping }}
    >
      <LampsContext value={lit}>
        <LensOf staging={staging} aspect={props.aspect} />
        <Surroundings
          {...props}
          map={map}
          lamps={lamps}
          onTook={(ms) => {
            setSlow(ms > FOLLOWS);
            setFast(ms <= WORTH);
            useStudioHand.setState({ coarse: ms > WORTH });
          }}
        />
        <Behind {...props} map={map} />
        <KeyShadow {...props} />
        {staging.bare !== "white" && staging.bare !== "through" && (
          <Pieces project={props.project} pieces={staging.pieces} gain={staging.gain} />
        )}
        {staging.units.map((unit) => (
          <ContactShadow key={unit.id} parts={seen} matrix={unit.matrix} strength={staging.shadow} />
        ))}
        {staging.units.map((unit) => (
          <group key={unit.id} matrixAutoUpdate={false} matrix={columnsOf(unit.matrix)}>
            {seen.map(({ part, mesh }) => (
              <PartSkin
                key={part.id}
                place={place}
                part={part.id}
                mesh={mesh}
                zones={staging.zones}
                looks={staging.wardrobe[unit.colourway ?? ""] ?? staging.looks}
                gain={staging.gain}
                picked={props.picked}
              />
            ))}
            <Marks project={props.project} marks={staging.marks} />
          </group>
        ))}
      </LampsContext>
    </Canvas>
  );
}

/** 16 numbers row by row as the library has them, column by column. */
function columnsOf(rows: number[]): [...Parameters<Matrix4["set"]>] {
  return new Matrix4().fromArray(rows).transpose().toArray() as [...Parameters<Matrix4["set"]>];
}

/** The map all around, fetched where there is one. */
function useMap({ project, setting, staging }: PreviewProps): Texture | null {
  const sky = (setting.lamps ?? []).filter((lamp) => lamp.kind === "sky");
  const { data } = useQuery<Texture>({
    queryKey: ["surround-map", setting.surround, sky],
    queryFn: async ({ signal }) => {
      const answered = await send(`/api/projects/${project}/surround-map`, {
        method: "POST",
        body: JSON.stringify({ setting }),
        headers: { "Content-Type": "application/json" },
        signal,
      });
      return textureOf(await answered.arrayBuffer());
    },
    enabled: staging.room === null,
    placeholderData: keepPreviousData,
    gcTime: 1_000,
  });
  return staging.room === null ? (data ?? null) : null;
}

function LensOf({ staging, aspect }: { staging: Staging; aspect: number }) {
  const { camera, invalidate } = useThree();
  useEffect(() => {
    if (!(camera instanceof PerspectiveCamera)) return;
    const { place, right, up, forward, view, shift } = staging.lens;
    camera.matrixAutoUpdate = false;
    camera.matrix
      .makeBasis(
        new Vector3(...(right as Three)),
        new Vector3(...(up as Three)),
        new Vector3(...(forward as Three)).negate(),
      )
      .setPosition(...(place as Three));
    camera.matrixWorldNeedsUpdate = true;
    camera.updateMatrixWorld(true);
    const [near, far] = [5, 20000];
    const half = near * Math.tan(view / 2);
    const [x, y] = [2 * half * shift[0], 2 * half * shift[1]];
    const set = () => {
      camera.projectionMatrix.makePerspective(-half + x, half + x, half / aspect + y, -half / aspect + y, near, far);
      camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
    };
    // whatever asks for it anew, the frame keeps its shift
    camera.updateProjectionMatrix = set;
    set();
    invalidate();
  }, [camera, staging, aspect, invalidate]);
  return null;
}

/** How fine what is seen through glass is, until the machine has shown that it is fast: the library draws it with four samples a pixel. */
const THROUGH = 0.35;

const shiningIn = (staging: Staging) => staging.lamps.filter((lamp) => lamp.kind !== "card");

/** Lamps that shine; cards, ground and surround as the light around the product, made anew only when one of them has changed. */
function Surroundings(props: PreviewProps & { map: Texture | null; lamps: AreaLamps; onTook: (ms: number) => void }) {
  const { staging, alone, map } = props;
  const { gl, scene, invalidate } = useThree();
  const onTook = useRef(props.onTook);
  const light = useMemo(() => {
    gl.transmissionResolutionScale = THROUGH;
    return new LightAround(gl, scene, invalidate, (ms) => {
      gl.transmissionResolutionScale = ms > WORTH ? THROUGH : 1;
      onTook.current(ms);
    });
  }, [gl, scene, invalidate]);
  useEffect(() => () => light.dispose(), [light]);
  const gain = staging.gain as Three;
  const ground = staging.pieces.find((piece) => piece.ground)?.look.colour ?? null;
  const { lamps } = props;
  const { centre, lens } = staging;
  const shine = JSON.stringify({ lamps: shiningIn(staging), alone, centre, gain, lens });
  useLayoutEffect(() => {
    lamps.become(JSON.parse(shine));
    invalidate();
  }, [lamps, shine, invalidate]);
  const lit: Lit = {
    cards: staging.lamps.filter((lamp) => lamp.kind === "card"),
    centre: staging.centre as Three,
    ground: ground && (ground.map((value, k) => value * staging.thrown[k]! * gain[k]!) as Three),
    room: (alone ? [0, 0, 0] : (staging.room ?? [0, 0, 0]).map((value, k) => value * gain[k]!)) as Three,
    gain,
  };
  const key = JSON.stringify(lit);
  useEffect(() => light.become(JSON.parse(key), alone ? null : map), [light, key, map, alone]);
  return null;
}

/** What stands before the lamp: it throws its shadow, and is not seen. */
function Sheets({ sheets }: { sheets: Three[][] }) {
  const key = JSON.stringify(sheets);
  const geometry = useGeometry(() => {
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(sheets.flat(2)), 3));
    made.setIndex(sheets.flatMap((_, k) => [0, 1, 2, 0, 2, 3].map((corner) => 4 * k + corner)));
    return made;
  }, [key]);
  return (
    <mesh geometry={geometry} castShadow frustumCulled={false}>
      <meshBasicMaterial colorWrite={false} depthWrite={false} side={DoubleSide} shadowSide={DoubleSide} />
    </mesh>
  );
}

/** What is seen past the set. */
function Behind({ staging, setting, map }: PreviewProps & { map: Texture | null }) {
  const { scene, invalidate } = useThree();
  const seen = setting.surround?.seen && !staging.bare;
  useEffect(() => {
    const shade = seen
      ? new Color(...((staging.room ?? [0, 0, 0]).map((value, k) => value * staging.gain[k]!) as Three))
      : new Color().setScalar(BARE[staging.bare ?? "black"]!);
    scene.background = shade;
    invalidate();
  }, [scene, invalidate, seen, staging]);
  const shell = useMemo(() => (seen && map ? shellOf(map, staging.gain) : null), [seen, map, staging.gain]);
  return shell && <primitive object={shell} />;
}

/** Share of a lamp's light that comes to its shadow another way, thrown back by set and product. */
const BOUNCED = 0.12;

/** How much black over a picture takes away a share of its light: the picture is coded, and black is mixed in after that. */
function darkening(share: number): number {
  return 1 - (1 - (1 - BOUNCED) * share) ** (1 / 2.2);
}

function KeyShadow({ staging, alone }: PreviewProps) {
  const lamps = staging.lamps.filter((lamp) => lamp.kind !== "card");
  const lamp = lamps.find((candidate) => candidate.id === (alone ?? "key")) ?? lamps[0];
  if (!lamp || staging.shadow === 0) return null;
  const middle = new Vector3(...(lamp.middle as Three));
  const away = middle.length();
  if (away > 4000) middle.multiplyScalar(4000 / away);
  const reach = Math.max(120, staging.centre[2] * 3);
  const edge = staging.facts.lamps[lamp.id]?.shadow_sides ?? 0;
  return (
    <>
      <directionalLight
        position={middle.toArray()}
        intensity={0.001}
        castShadow
        shadow-mapSize={[1024, 1024]}
        shadow-radius={Math.min(12, Math.max(1, (edge / reach) * 256))}
        shadow-camera-left={-reach}
        shadow-camera-right={reach}
        shadow-camera-top={reach}
        shadow-camera-bottom={-reach}
        shadow-camera-near={10}
        shadow-camera-far={5000}
      />
      <Sheets sheets={lamp.sheets as Three[][]} />
      <mesh receiveShadow position={[0, 0, 0.4]}>
        <planeGeometry args={[1600, 1400]} />
        <shadowMaterial opacity={darkening(staging.shadow * (alone ? 1 : lamp.cast))} side={DoubleSide} />
      </mesh>
    </>
  );
}
