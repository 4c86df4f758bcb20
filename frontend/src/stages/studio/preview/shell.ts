import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DataTexture,
  DoubleSide,
  FloatType,
  LinearFilter,
  Mesh,
  MeshBasicMaterial,
  RepeatWrapping,
  RGBAFormat,
  type Texture,
} from "three";
import { HDRLoader } from "three/examples/jsm/loaders/HDRLoader.js";

const [AROUND, UP] = [64, 32];
const FAR = 9000;

/** A map of surroundings as a shell around the set, as `core/studio/surround.py` lays maps out: its left edge is the front (-y), azimuth grows to
 *  the right of the camera. */
export function shellOf(map: Texture, gain: number[]): Mesh {
  const places: number[] = [];
  const at: number[] = [];
  for (let row = 0; row <= UP; row++) {
    const rise = Math.PI / 2 - (row / UP) * Math.PI;
    for (let column = 0; column <= AROUND; column++) {
      const turn = (column / AROUND) * 2 * Math.PI;
      places.push(FAR * Math.cos(rise) * Math.sin(turn), -FAR * Math.cos(rise) * Math.cos(turn), FAR * Math.sin(rise));
      at.push(column / AROUND, 1 - row / UP);
    }
  }
  const wide = AROUND + 1;
  const index: number[] = [];
  for (let row = 0; row < UP; row++)
    for (let column = 0; column < AROUND; column++) {
      const a = row * wide + column;
      index.push(a, a + wide, a + 1, a + 1, a + wide, a + wide + 1);
    }
  const shell = new BufferGeometry();
  shell.setAttribute("position", new BufferAttribute(new Float32Array(places), 3));
  shell.setAttribute("uv", new BufferAttribute(new Float32Array(at), 2));
  shell.setIndex(index);
  const material = new MeshBasicMaterial({ map, side: DoubleSide, toneMapped: false, depthWrite: false });
  material.color = new Color(...(gain as [number, number, number]));
  return new Mesh(shell, material);
}

/** The bytes of a Radiance file as a texture. */
export function textureOf(bytes: ArrayBuffer): Texture {
  const read = new HDRLoader().setDataType(FloatType).parse(bytes) as {
    width: number;
    height: number;
    data: Float32Array;
  };
  const texture = new DataTexture(read.data, read.width, read.height, RGBAFormat, FloatType);
  texture.minFilter = LinearFilter;
  texture.magFilter = LinearFilter;
  texture.wrapS = RepeatWrapping;
  texture.flipY = true;
  texture.needsUpdate = true;
  return texture;
}
