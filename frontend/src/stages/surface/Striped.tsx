import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { DoubleSide, ShaderMaterial, Vector3 } from "three";
import type { SkinMesh } from "../../view3d/partMesh";

const VERTEX = `
varying vec3 vNormal;
varying vec3 vPlace;
void main() {
  vNormal = normal;
  vPlace = position;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

// Bands of light far away, seen in the mirror of the surface: their edges are as continuous as its tangent plane.
const FRAGMENT = `
uniform vec3 eye;
uniform vec3 across;
uniform float count;
varying vec3 vNormal;
varying vec3 vPlace;
void main() {
  vec3 n = normalize(vNormal);
  vec3 v = normalize(eye - vPlace);
  if (dot(n, v) < 0.0) n = -n;
  vec3 r = reflect(-v, n);
  float band = asin(clamp(dot(r, across), -1.0, 1.0)) / 3.14159265 * count;
  float wave = abs(fract(band) - 0.5) * 2.0;
  float soft = clamp(fwidth(band) * 2.0, 0.02, 0.5);
  float light = smoothstep(0.5 - soft, 0.5 + soft, wave);
  float form = 0.72 + 0.28 * dot(n, v);
  gl_FragColor = vec4(mix(vec3(0.09, 0.1, 0.105), vec3(0.95, 0.94, 0.91), light) * form, 1.0);
}`;

/** A part under stripes, from the skin's exact normals. */
export function Striped(props: { mesh: SkinMesh; count: number; across: Vector3 }) {
  const { camera, invalidate } = useThree();
  const [material, uniforms] = useMemo(() => {
    const uniforms = { eye: { value: new Vector3() }, across: { value: new Vector3() }, count: { value: 1 } };
    return [
      new ShaderMaterial({ vertexShader: VERTEX, fragmentShader: FRAGMENT, side: DoubleSide, uniforms }),
      uniforms,
    ] as const;
  }, []);
  uniforms.across.value.copy(props.across);
  uniforms.count.value = props.count;
  useEffect(() => invalidate(), [props.mesh, props.count, props.across, invalidate]);
  return (
    <mesh
      geometry={props.mesh.geometry}
      material={material}
      onBeforeRender={() => uniforms.eye.value.copy(camera.position)}
    />
  );
}
