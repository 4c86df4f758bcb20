import { useMemo } from "react";
import { DoubleSide, type MeshPhysicalMaterial, ShaderChunk, type Texture } from "three";
import type { Shapes } from "../../../api/client";
import { useLitBy } from "./areaLamps";

type Three = [number, number, number];

/** Colours are told as lists: such are compared by their values, and nothing is drawn anew where none has changed. */
export const WHITE: Three = [1, 1, 1];

/** How thick glass is taken to be where it bends what lies behind it, mm. */
const GLASS_THICKNESS = 12;

interface MaterialProps {
  look: Shapes["LookShape"] | undefined;
  gain: number[];
  /** Points have colours of their own; of a part they have them where its colour runs into another. */
  coloured?: boolean;
  /** What is laid on it, by texture coordinates in mm; `deep` is how deep the relief is, mm. */
  laid?: { colour: Texture | null; relief: Texture | null; rough: Texture | null; deep: number };
}

type Compile = MeshPhysicalMaterial["onBeforeCompile"];

/** The library makes a relief look alike at any size; here it is as steep as it is. */
const asSteepAsItIs: Compile = (shader) => {
  const steep = ShaderChunk.bumpmap_pars_fragment.replaceAll("normalize( dFd", "( dFd");
  shader.fragmentShader = shader.fragmentShader.replace("#include <bumpmap_pars_fragment>", steep);
};

/** A finish as the server says it is drawn; it is not there in the moment between a new part and its staging. */
export function FinishMaterial({ look, gain, laid, coloured = !!look?.ramp }: MaterialProps) {
  const lit = useLitBy();
  const matte = look?.speck === 0 && look.metalness === 0 && look.lacquer === 0;
  const { onBeforeCompile, customProgramCacheKey } = matte ? lit.matte : lit.shining;
  const compile = useMemo<Compile>(
    () => (shader, renderer) => {
      asSteepAsItIs(shader, renderer);
      onBeforeCompile(shader, renderer);
    },
    [onBeforeCompile],
  );
  if (!look) return <meshPhysicalMaterial side={DoubleSide} />;
  const { colour, transmission, lacquer, absorbs, glow } = look;
  // what is left after a mm, by Beer and Lambert: three reckons with a colour at a distance
  const left = absorbs.map((value) => Math.exp(-value * GLASS_THICKNESS)) as Three;
  const maps = coloured ? { ...laid, colour: null } : laid;
  const kinds = [maps?.colour, maps?.relief, maps?.rough].map((map) => (map ? 1 : 0)).join("");
  return (
    <meshPhysicalMaterial
      key={`${lit.name}${matte}${transmission}${lacquer > 0}${coloured}${kinds}`}
      color={coloured || maps?.colour ? WHITE : (colour as Three)}
      map={maps?.colour ?? null}
      bumpMap={maps?.relief ?? null}
      bumpScale={maps?.deep ?? 0}
      roughnessMap={maps?.rough ?? null}
      onBeforeCompile={compile}
      customProgramCacheKey={customProgramCacheKey}
      vertexColors={coloured}
      side={DoubleSide}
      metalness={look.metalness}
      roughness={maps?.rough ? 1 : look.roughness}
      ior={look.ior}
      specularIntensity={look.speck}
      transmission={transmission}
      thickness={transmission * GLASS_THICKNESS}
      attenuationColor={left}
      attenuationDistance={transmission ? GLASS_THICKNESS : Number.POSITIVE_INFINITY}
      clearcoat={lacquer}
      clearcoatRoughness={look.lacquer_roughness}
      emissive={glow.map((value, k) => value * gain[k]!) as Three}
    />
  );
}
