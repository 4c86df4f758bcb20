import { useRef, useState } from "react";
import { everythingDelivered } from "../api/outbox";

/** What a field shows: what is stored, or what was set here and is on its way. */
export function useOnItsWay<T>(stored: T, change: (value: T) => unknown): [shown: T, set: (value: T) => Promise<void>] {
  const [wanted, setWanted] = useState<{ value: T } | null>(null);
  const newest = useRef(0);
  const set = async (value: T) => {
    newest.current += 1;
    const turn = newest.current;
    setWanted({ value });
    await change(value);
    await everythingDelivered();
    if (turn === newest.current) setWanted(null);
  };
  return [wanted ? wanted.value : stored, set];
}
