import { useEffect, useRef, useState } from "react";
import { fromWords, inWords, useAddressedView } from "../bench/address";
import type { Stage } from "../bench/store";
import { lookFrom, numbersOf, type Orbit, orbitOf } from "./orbit";
import { allHere, extentOf, type Shown } from "./useParts";

/** The view of a stage's form as the address has it; where it has none, all of the form once all of it has come. */
export function useAddressedOrbit(
  stage: Stage,
  orbit: Orbit,
  form: Parameters<typeof allHere>[0],
  shown: Shown[],
  set: (state: { orbit: Orbit }) => void,
): void {
  const [framed, setFramed] = useState(false);
  const told = useRef(false);
  useAddressedView(stage, null, framed ? inWords(numbersOf(orbit)) : null, (words) => {
    const numbers = fromWords(words, 7);
    if (!numbers) return;
    told.current = true;
    set({ orbit: orbitOf(numbers) });
    setFramed(true);
  });
  useEffect(() => {
    if (framed || told.current || !allHere(form, shown)) return;
    const { target, extent } = extentOf(shown);
    set({ orbit: lookFrom("three-quarter", target, extent) });
    setFramed(true);
  }, [framed, form, shown, set]);
}
