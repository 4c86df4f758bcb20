import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import {
  BackSide,
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Mesh,
  MeshBasicMaterial,
  NeutralToneMapping,
  PCFShadowMap,
  PerspectiveCamera,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  type Texture,
  Vector3,
} from "three";
import type { Shapes } from "../../api/client";
import type { Shown } from "../../view3d/useParts";
import type { Setting } from "./store";

type Staging = Shapes["StagingShape"];
type Finish = Shapes["Finish"];

interface PreviewProps {
  staging: Staging;
  setting: Setting;
  parts: Shown[];
  alone: string | null;
  aspect: number;
}

/** The set at once: lamps as a reflected environment, the key's shadow, the same display transform as a take. */
export function StudioPreview(props: PreviewProps) {
  return (
    <Canvas
      frameloop="demand"
      dpr={1}
      shadows={{ type: PCFShadowMap }}
      gl={{ antialias: true, toneMapping: NeutralToneMapping }}
    >
      <Lens staging={props.staging} aspect={props.aspect} />
      <Surroundings {...props} />
      <KeyShadow {...props} />
      <SweepMesh sweep={props.setting.sweep!} distance={props.setting.camera!.distance!} />
      <group position={props.staging.shift as [number, number, number]}>
        {props.parts.map(({ part, mesh }) => (
          <mesh key={part.id} geometry={mesh.geometry} castShadow>
            <FinishMaterial
              finish={props.setting.finishes?.[part.id] ?? { material: "matte plastic", colour: "#c9c4ba" }}
            />
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

function Surroundings({ staging, setting, alone }: PreviewProps) {
  const { gl, scene, invalidate } = useThree();
  const environment = useMemo(() => {
    const room = new Scene();
    const shell = new Mesh(
      new SphereGeometry(9000),
      new MeshBasicMaterial({ color: new Color(0.03, 0.03, 0.03), side: BackSide }),
    );
    const wall = new Color(setting.sweep!.colour).multiplyScalar(LIT);
    const floor = new Mesh(
      new SphereGeometry(8000, 24, 12, 0, Math.PI * 2, Math.PI / 2, Math.PI / 2),
      new MeshBasicMaterial({ color: wall, side: BackSide }),
    );
    floor.rotation.x = Math.PI / 2;
    room.add(shell, floor);
    for (const lamp of staging.lamps) {
      if (alone && lamp.id !== alone) continue;
      const quad = new BufferGeometry();
      const places = lamp.corners.map((corner) =>
        new Vector3(...(corner as [number, number, number])).sub(
          new Vector3(...(staging.centre as [number, number, number])),
        ),
      );
      quad.setAttribute(
        "position",
        new BufferAttribute(new Float32Array(places.flatMap((place) => place.toArray())), 3),
      );
      quad.setIndex([0, 1, 2, 0, 2, 3]);
      const glow = lamp.radiance as [number, number, number];
      room.add(new Mesh(quad, new MeshBasicMaterial({ color: new Color(...glow), toneMapped: false })));
    }
    const maker = new PMREMGenerator(gl);
    const map: Texture = maker.fromScene(room, 0, 10, 20000).texture;
    maker.dispose();
    return map;
  }, [gl, staging, setting.sweep, alone]);
  useEffect(() => {
    scene.environment = environment;
    scene.environmentRotation.set(0, 0, 0);
    invalidate();
    return () => environment.dispose();
  }, [scene, environment, invalidate]);
  return null;
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

function SweepMesh({ sweep, distance }: { sweep: Shapes["Sweep"]; distance: number }) {
  const geometry = useMemo(() => {
    const [width, depth, cove] = [sweep.width!, sweep.depth!, Math.min(sweep.cove!, sweep.depth!)];
    const profile: [number, number, number, number][] = [[-Math.max(depth, distance + 400), 0, 0, 1]];
    for (let k = 0; k <= 24; k++) {
      const a = (k / 24) * (Math.PI / 2);
      profile.push([depth - cove + cove * Math.sin(a), cove - cove * Math.cos(a), -Math.sin(a), Math.cos(a)]);
    }
    profile.push([depth, 1800, -1, 0]);
    const [places, normals, order]: [number[], number[], number[]] = [[], [], []];
    for (const x of [-width / 2, width / 2]) {
      for (const [y, z, ny, nz] of profile) {
        places.push(x, y, z);
        normals.push(0, ny, nz);
      }
    }
    for (let k = 0; k + 1 < profile.length; k++) {
      const n = profile.length;
      order.push(k, k + n, k + n + 1, k, k + n + 1, k + 1);
    }
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
    made.setAttribute("normal", new BufferAttribute(new Float32Array(normals), 3));
    made.setIndex(order);
    return made;
  }, [sweep, distance]);
  return (
    <mesh geometry={geometry}>
      <meshStandardMaterial color={sweep.colour} roughness={1} side={DoubleSide} />
    </mesh>
  );
}

function FinishMaterial({ finish }: { finish: Finish }) {
  const looks = {
    "matte plastic": { roughness: 0.5 },
    "gloss plastic": { roughness: 0.12 },
    rubber: { roughness: 0.8 },
    "polished metal": { metalness: 1, roughness: 0.14 },
    "clear glass": { roughness: 0.02, transmission: 1, thickness: 12, ior: 1.5 },
  }[finish.material ?? "matte plastic"];
  return <meshPhysicalMaterial key={finish.material} color={finish.colour} side={DoubleSide} {...looks} />;
}
