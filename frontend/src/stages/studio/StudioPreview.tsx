import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef, useState } from "react";
import {
  BackSide,
  BufferAttribute,
  BufferGeometry,
  Color,
  CustomToneMapping,
  DoubleSide,
  Mesh,
  MeshBasicMaterial,
  PCFShadowMap,
  PerspectiveCamera,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  Vector3,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from "three";
import type { Shapes } from "../../api/client";
import "../../view3d/display";
import { useGeometry } from "../../view3d/useGeometry";
import type { Shown } from "../../view3d/useParts";
import { useStudioHand } from "./store";

type Staging = Shapes["StagingShape"];

interface PreviewProps {
  staging: Staging;
  sweep: Shapes["Sweep"];
  parts: Shown[];
  alone: string | null;
  aspect: number;
  /** A hand is dragging: better coarse and at once than fine and late. */
  moving: boolean;
}

/** How thick glass is taken to be where it bends what lies behind it, mm. */
const GLASS_THICKNESS = 12;

/** The set at once: lamps as a reflected environment, the key's shadow, the same display transform as a take. */
export function StudioPreview(props: PreviewProps) {
  const [slow, setSlow] = useState(false);
  return (
    <Canvas
      frameloop="demand"
      dpr={slow && props.moving ? 0.5 : 1}
      shadows={{ type: PCFShadowMap }}
      gl={{ antialias: true, toneMapping: CustomToneMapping }}
    >
      <Lens staging={props.staging} aspect={props.aspect} />
      <Surroundings
        {...props}
        onTook={(ms) => {
          setSlow(ms > FOLLOWS);
          useStudioHand.setState({ coarse: ms > WORTH });
        }}
      />
      <KeyShadow {...props} />
      <SweepMesh sweep={props.sweep} side={props.staging.sweep} />
      <group position={props.staging.shift as [number, number, number]}>
        {props.parts.map(({ part, mesh }) => (
          <mesh key={part.id} geometry={mesh.geometry} castShadow>
            <FinishMaterial look={props.staging.looks[part.id]} />
          </mesh>
        ))}
      </group>
    </Canvas>
  );
}

function Lens({ staging, aspect }: { staging: Staging; aspect: number }) {
  const { camera, invalidate } = useThree();
  useEffect(() => {
    if (!(camera instanceof PerspectiveCamera)) return;
    camera.up.set(0, 0, 1);
    camera.position.set(...(staging.lens as [number, number, number]));
    camera.aspect = aspect;
    camera.fov = (2 * Math.atan(Math.tan(staging.view / 2) / aspect) * 180) / Math.PI;
    camera.near = 5;
    camera.far = 20000;
    camera.lookAt(...(staging.target as [number, number, number]));
    camera.updateProjectionMatrix();
    invalidate();
  }, [camera, staging, aspect, invalidate]);
  return null;
}

/** Share of the lamps' light that a matte sweep returns to the product in the preview. */
const LIT = 0.32;

/** Lamps and sweep as the light around the product, made anew only when one of them has changed. */
function Surroundings(props: PreviewProps & { onTook: (ms: number) => void }) {
  const { staging, sweep, alone } = props;
  const { gl, scene, invalidate } = useThree();
  const onTook = useRef(props.onTook);
  const light = useMemo(
    () => new LightAround(gl, scene, invalidate, (ms) => onTook.current(ms)),
    [gl, scene, invalidate],
  );
  useEffect(() => () => light.dispose(), [light]);
  const lit: Lit = [staging.lamps.filter((lamp) => !alone || lamp.id === alone), staging.centre, sweep.colour!];
  const key = JSON.stringify(lit);
  useEffect(() => light.become(JSON.parse(key)), [light, key]);
  return null;
}

type Lit = [lamps: Staging["lamps"], centre: Staging["centre"], sweep: string];

/** ms that filtering an environment may take for it to follow a moving hand; above, it waits until the hand rests. */
const FOLLOWS = 120;
const RESTS = 350;
/** ms that it may take once the hand rests; above, reflections stay coarse. */
const WORTH = 1500;
/** Px of a side of the cube that is reflected: at first, and where the machine has the time. It takes as long as it has px. */
const COARSE = 64;
const FINE = 256;

/**
 * A scene's environment, by one generator. While the machine still draws one, only the newest wish is kept. A coarse one comes at
 * once and tells how long a fine one will take.
 */
class LightAround {
  private maker: PMREMGenerator;
  private target: WebGLRenderTarget | null = null;
  private wish: Lit | null = null;
  private waiting: number | null = null;
  /** ms that a fine one takes, once one of either size was made. */
  private takes: number | null = null;
  private drawing = false;

  constructor(
    private gl: WebGLRenderer,
    private scene: Scene,
    private shown: () => void,
    private onTook: (ms: number) => void,
  ) {
    this.maker = new PMREMGenerator(gl);
  }

  become(lit: Lit) {
    this.wish = lit;
    if (this.drawing) return;
    if (this.waiting !== null) window.clearTimeout(this.waiting);
    this.waiting = null;
    const coarse = (this.takes ?? 0) * (COARSE / FINE) ** 2;
    if (coarse > FOLLOWS) this.waiting = window.setTimeout(() => this.make(COARSE), RESTS);
    else this.make(this.takes !== null && this.takes <= FOLLOWS ? FINE : COARSE);
  }

  dispose() {
    if (this.waiting !== null) window.clearTimeout(this.waiting);
    this.waiting = null;
    this.drawing = false;
    this.target?.dispose();
    this.maker.dispose();
  }

  private make(size: number) {
    this.waiting = null;
    if (!this.wish) return;
    const lit = this.wish;
    const room = surroundings(...lit);
    this.wish = null;
    const before = this.target;
    this.target = this.maker.fromScene(room, 0, 10, 20000, { size });
    before?.dispose();
    for (const item of room.children as Mesh<BufferGeometry, MeshBasicMaterial>[]) {
      item.geometry.dispose();
      item.material.dispose();
    }
    this.scene.environment = this.target.texture;
    this.shown();
    this.drawing = true;
    const context = this.gl.getContext() as WebGL2RenderingContext;
    const since = performance.now();
    this.drawn(context, context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0), () => {
      this.takes = (performance.now() - since) * (FINE / size) ** 2;
      this.onTook(this.takes);
      if (this.wish) this.become(this.wish);
      else if (size < FINE && this.takes <= WORTH) {
        this.wish = lit;
        this.waiting = window.setTimeout(() => this.make(FINE), this.takes > FOLLOWS ? RESTS : 0);
      }
    });
    context.flush();
  }

  /** Waits until the machine has done what was asked of it, then makes the newest wish if there is one. */
  private drawn(context: WebGL2RenderingContext, fence: WebGLSync | null, then: () => void) {
    this.waiting = window.setTimeout(() => {
      const waits = fence && context.getSyncParameter(fence, context.SYNC_STATUS) === context.UNSIGNALED;
      if (waits) return this.drawn(context, fence, then);
      context.deleteSync(fence);
      this.drawing = false;
      this.waiting = null;
      then();
    }, 16);
  }
}

function surroundings(lamps: Staging["lamps"], centre: Staging["centre"], sweep: string): Scene {
  const room = new Scene();
  const shell = new Mesh(
    new SphereGeometry(9000),
    new MeshBasicMaterial({ color: new Color(0.03, 0.03, 0.03), side: BackSide }),
  );
  const floor = new Mesh(
    new SphereGeometry(8000, 24, 12, 0, Math.PI * 2, Math.PI / 2, Math.PI / 2),
    new MeshBasicMaterial({ color: new Color(sweep).multiplyScalar(LIT), side: BackSide }),
  );
  floor.rotation.x = Math.PI / 2;
  room.add(shell, floor);
  const middle = new Vector3(...(centre as [number, number, number]));
  for (const lamp of lamps) {
    const quad = new BufferGeometry();
    const places = lamp.corners.flatMap((corner) =>
      new Vector3(...(corner as [number, number, number])).sub(middle).toArray(),
    );
    quad.setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
    quad.setIndex([0, 1, 2, 0, 2, 3]);
    const glow = lamp.radiance as [number, number, number];
    room.add(new Mesh(quad, new MeshBasicMaterial({ color: new Color(...glow), toneMapped: false })));
  }
  return room;
}

function KeyShadow({ staging, alone }: PreviewProps) {
  const lamp = staging.lamps.find((candidate) => candidate.id === (alone ?? "key")) ?? staging.lamps[0];
  if (!lamp) return null;
  const place = lamp.corners
    .reduce((sum, corner) => sum.add(new Vector3(...(corner as [number, number, number]))), new Vector3())
    .divideScalar(4);
  const reach = Math.max(120, staging.centre[2] * 3);
  return (
    <>
      <directionalLight
        position={place}
        intensity={0.001}
        castShadow
        shadow-mapSize={[1024, 1024]}
        shadow-radius={7}
        shadow-camera-left={-reach}
        shadow-camera-right={reach}
        shadow-camera-top={reach}
        shadow-camera-bottom={-reach}
        shadow-camera-near={10}
        shadow-camera-far={5000}
      />
      <mesh receiveShadow position={[0, 0, 0.4]}>
        <planeGeometry args={[1600, 1400]} />
        <shadowMaterial opacity={0.34} />
      </mesh>
    </>
  );
}

function SweepMesh({ sweep, side }: { sweep: Shapes["Sweep"]; side: Staging["sweep"] }) {
  const { width = 0, colour } = sweep;
  const key = JSON.stringify([width, side]);
  const geometry = useGeometry(() => {
    const count = side.length;
    const ends = [-width / 2, width / 2];
    const places = ends.flatMap((x) => side.flatMap(([y, z]) => [x, y, z]));
    const normals = ends.flatMap(() => side.flatMap(([, , y, z]) => [0, y, z]));
    const steps = Array.from({ length: count - 1 }, (_, k) => [k, k + count, k + count + 1, k, k + count + 1, k + 1]);
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
    made.setAttribute("normal", new BufferAttribute(new Float32Array(normals), 3));
    made.setIndex(steps.flat());
    return made;
  }, [key]);
  return (
    <mesh geometry={geometry}>
      <meshPhysicalMaterial color={colour} roughness={1} specularIntensity={0} side={DoubleSide} />
    </mesh>
  );
}

/** A finish as the server says it is drawn; it is not there in the moment between a new part and its staging. */
function FinishMaterial({ look }: { look: Shapes["LookShape"] | undefined }) {
  if (!look) return <meshPhysicalMaterial side={DoubleSide} />;
  const { colour, transmission, ...rest } = look;
  return (
    <meshPhysicalMaterial
      key={transmission}
      color={new Color(...colour)}
      side={DoubleSide}
      transmission={transmission}
      thickness={transmission * GLASS_THICKNESS}
      {...rest}
    />
  );
}
