import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide, ShaderMaterial } from "three";
import type { SkinMesh } from "../partMesh";
import { type Range, scaleTexture } from "./scales";

const VERTEX = `
attribute float value;
attribute float marked;
varying float vValue;
varying float vMarked;
varying vec3 vNormal;
varying vec3 vPlace;
void main() {
  vValue = value;
  vMarked = marked;
  vNormal = normalize(mat3(modelViewMatrix) * normal.xyz);
  vec4 place = modelViewMatrix * vec4(position, 1.0);
  vPlace = place.xyz;
  gl_Position = projectionMatrix * place;
}`;

// The value is mixed between the points and coloured after: lines of equal value stay sharp however near one comes.
const FRAGMENT = `
uniform sampler2D scale;
uniform float low;
uniform float high;
uniform float steps;
varying float vValue;
varying float vMarked;
varying vec3 vNormal;
varying vec3 vPlace;
void main() {
  vec3 n = normalize(vNormal);
  vec3 v = normalize(-vPlace);
  float form = 0.86 + 0.14 * abs(dot(n, v));
  if (vValue > 1e20) { gl_FragColor = vec4(vec3(0.62) * form, 1.0); return; }
  float share = clamp((vValue - low) / (high - low), 0.0, 1.0);
  vec3 colour = texture2D(scale, vec2(share * 255.0 / 256.0 + 0.5 / 256.0, 0.5)).rgb;
  float band = (vValue - low) / (high - low) * steps;
  float wide = fwidth(band);
  float line = 1.0 - smoothstep(0.6 * wide, 1.6 * wide, abs(fract(band - 0.5) - 0.5));
  float within = step(low, vValue) * step(vValue, high) * step(wide, 0.5);
  colour = mix(colour, colour * 0.72, line * within);
  // what is marked is hatched, so that it is told from the rest without colour too
  float hatch = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 8.0));
  colour = mix(colour, mix(vec3(0.61, 0.17, 0.23), vec3(0.98, 0.96, 0.93), hatch), step(0.5, vMarked));
  gl_FragColor = vec4(colour * form, 1.0);
}`;

/** Values at every mesh point, and which points are marked. */
export interface Valued {
  values: Float32Array;
  marked: Uint8Array | null;
}

/** A part coloured by a map's values. */
export function Mapped(props: { mesh: SkinMesh; map: Valued; range: Range }) {
  const { mesh, map, range } = props;
  const invalidate = useThree((three) => three.invalidate);
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    made.setAttribute("position", mesh.geometry.getAttribute("position"));
    made.setAttribute("normal", mesh.geometry.getAttribute("normal"));
    made.setIndex(mesh.geometry.getIndex());
    const values = map.values.map((value) => (Number.isFinite(value) ? value : 1e30));
    made.setAttribute("value", new BufferAttribute(values, 1));
    made.setAttribute("marked", new BufferAttribute(Float32Array.from(map.marked ?? new Uint8Array(values.length)), 1));
    made.boundingSphere = mesh.geometry.boundingSphere;
    return made;
  }, [mesh, map]);
  useEffect(
    () => () => {
      // the mesh's own arrays are not this one's to let go
      for (const name of ["position", "normal"]) geometry.deleteAttribute(name);
      geometry.setIndex(null);
      geometry.dispose();
    },
    [geometry],
  );
  const [material, uniforms] = useMemo(() => {
    const uniforms = {
      scale: { value: scaleTexture("both") },
      low: { value: 0 },
      high: { value: 1 },
      steps: { value: STEPS },
    };
    return [
      new ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FRAGMENT,
        side: DoubleSide,
        uniforms,
        polygonOffset: true,
        polygonOffsetFactor: 1,
        polygonOffsetUnits: 1,
      }),
      uniforms,
    ] as const;
  }, []);
  useEffect(() => () => material.dispose(), [material]);
  uniforms.scale.value = scaleTexture(range.scale);
  uniforms.low.value = range.low;
  uniforms.high.value = range.high;
  useEffect(() => invalidate(), [geometry, range, invalidate]);
  return <mesh geometry={geometry} material={material} />;
}

/** Steps of a scale whose bounds are drawn as lines. */
export const STEPS = 8;
