import { useEffect, useRef, useState } from "react";
import { fromWords, inWords, keepView, useArrivals } from "../bench/address";
import type { Stage } from "../bench/store";
import type { Eye } from "./eye";
import { lookFrom, numbersOf, type Orbit, orbitOf } from "./orbit";
import { allHere, extentOf, type Shown } from "./useParts";

/** The view of a stage's form as the address has it; where it has none, all of the form once all of it has come. */
export function useAddressedOrbit(stage: Stage, eye: Eye, form: Parameters<typeof allHere>[0], shown: Shown[]): void {
  const [framed, setFramed] = useState(false);
  const told = useRef(false);
  const turned = useRef(false);
  useArrivals(stage, null, (words) => {
    const numbers = fromWords(words, 7);
    const orbit = numbers && orbitOf(numbers);
    if (!orbit) return;
    told.current = true;
    eye.look(orbit);
    setFramed(true);
  });
  useEffect(() => {
    if (framed || told.current || !allHere(form, shown)) return;
    const { target, extent } = extentOf(shown);
    const whole = lookFrom("three-quarter", target, extent);
    // whoever has turned it already, to draw what has come now, goes on looking that way
    const { azimuth, rise } = turned.current ? eye.now() : whole;
    eye.look({ ...whole, azimuth, rise });
    setFramed(true);
  }, [framed, form, shown, eye]);
  useEffect(() => {
    if (!framed)
      return eye.follow(() => {
        turned.current = true;
      });
    const keep = (orbit: Orbit) => keepView(stage, null, inWords(numbersOf(orbit)));
    keep(eye.now());
    return eye.follow(keep);
  }, [framed, stage, eye]);
}
