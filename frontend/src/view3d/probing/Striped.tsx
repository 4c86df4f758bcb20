import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { type BufferGeometry, DoubleSide, ShaderMaterial, Vector3 } from "three";

const VERTEX = `
varying vec3 vNormal;
varying vec3 vPlace;
void main() {
  vNormal = normal;
  vPlace = position;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

const SEEN = `
uniform vec3 eye;
uniform vec3 across;
uniform float count;
varying vec3 vNormal;
varying vec3 vPlace;
vec3 n, v, r;
void look() {
  n = normalize(vNormal);
  v = normalize(eye - vPlace);
  if (dot(n, v) < 0.0) n = -n;
  r = reflect(-v, n);
}`;

// Bands of light far away, seen in the mirror of the surface: their edges are as continuous as its tangent plane.
const STRIPES = `${SEEN}
void main() {
  look();
  float band = asin(clamp(dot(r, across), -1.0, 1.0)) / 3.14159265 * count;
  float wave = abs(fract(band) - 0.5) * 2.0;
  float soft = clamp(fwidth(band) * 2.0, 0.004, 0.5);
  float light = smoothstep(0.5 - soft, 0.5 + soft, wave);
  float form = 0.72 + 0.28 * dot(n, v);
  gl_FragColor = vec4(mix(vec3(0.09, 0.1, 0.105), vec3(0.95, 0.94, 0.91), light) * form, 1.0);
}`;

// A dark room with a few long, soft-edged strip lamps overhead and a low horizon, in a polished skin: what a light tunnel shows.
const POLISHED = `${SEEN}
void main() {
  look();
  vec3 up = normalize(across);
  vec3 side = normalize(cross(abs(up.z) < 0.95 ? vec3(0.0, 0.0, 1.0) : vec3(1.0, 0.0, 0.0), up));
  float high = dot(r, up);
  // strips in a plane overhead, without end along one direction
  float lamp = 0.0;
  if (high > 0.02) {
    float place = dot(r, side) / high;
    float strip = place * count * 0.25;
    float wide = max(fwidth(strip) * 1.5, 0.03);
    float wave = abs(fract(strip + 0.5) - 0.5);
    lamp = (1.0 - smoothstep(0.14 - wide, 0.14 + wide, wave)) * smoothstep(0.02, 0.22, high) * step(abs(strip), 0.5 * floor(count * 0.5) + 0.5);
  }
  float room = 0.25 + 0.5 * smoothstep(-0.2, 1.0, high) + 0.9 * smoothstep(0.08, -0.06, high) * smoothstep(-0.6, -0.05, high);
  // a clear coat over dark paint (Schlick 1994; index 1.5): little of the room, all of a lamp
  float coat = 0.04 + 0.96 * pow(1.0 - max(dot(n, v), 0.0), 5.0);
  vec3 paint = vec3(0.012, 0.034, 0.029) * (0.6 + 0.4 * dot(n, up));
  vec3 seen = paint + coat * (vec3(1.0, 0.985, 0.95) * lamp * 22.0 + vec3(0.5, 0.55, 0.56) * room);
  gl_FragColor = vec4(pow(clamp(seen / (0.82 + 0.18 * seen), 0.0, 1.0), vec3(1.0 / 2.2)), 1.0);
}`;

/** A part in the light of a probe, from the skin's exact normals. */
export function Striped(props: {
  geometry: BufferGeometry;
  count: number;
  across: Vector3;
  look: "stripes" | "polished";
}) {
  const { geometry, count, across, look } = props;
  const { camera, invalidate } = useThree();
  const [material, uniforms] = useMemo(() => {
    const uniforms = { eye: { value: new Vector3() }, across: { value: new Vector3() }, count: { value: 1 } };
    return [
      new ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: look === "stripes" ? STRIPES : POLISHED,
        side: DoubleSide,
        uniforms,
      }),
      uniforms,
    ] as const;
  }, [look]);
  useEffect(() => () => material.dispose(), [material]);
  uniforms.across.value.copy(across);
  uniforms.count.value = count;
  useEffect(() => invalidate(), [geometry, count, across, look, invalidate]);
  return (
    <mesh geometry={geometry} material={material} onBeforeRender={() => uniforms.eye.value.copy(camera.position)} />
  );
}
