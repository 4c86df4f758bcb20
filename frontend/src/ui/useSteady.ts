import { useCallback, useLayoutEffect, useRef } from "react";

/** A function that stays the same one from drawing to drawing and does what the newest does, so that what it is given to need not be drawn anew. */
export function useSteady<Values extends unknown[], Result>(now: (...values: Values) => Result) {
  const newest = useRef(now);
  useLayoutEffect(() => {
    newest.current = now;
  });
  return useCallback((...values: Values) => newest.current(...values), []);
}
