import { useEffect, useMemo } from "react";
import { BufferAttribute, type BufferGeometry } from "three";

/** A geometry that is made anew when what it is made of changes; the card lets go of the one before. */
export function useGeometry(make: () => BufferGeometry, made: readonly unknown[]): BufferGeometry {
  // biome-ignore lint/correctness/useExhaustiveDependencies: whoever asks for it says what it is made of
  const geometry = useMemo(make, made);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return geometry;
}

/** Puts other places into a geometry; what the card held of the ones before is let go first. */
export function place(geometry: BufferGeometry, places: Float32Array): void {
  const held = geometry.getAttribute("position") as BufferAttribute | undefined;
  if (held?.array.length === places.length) {
    (held.array as Float32Array).set(places);
    held.needsUpdate = true;
  } else {
    geometry.dispose();
    geometry.setAttribute("position", new BufferAttribute(places, 3));
  }
  geometry.computeBoundingSphere();
}
