import type { Orbit } from "./orbit";

/** Where a view is looked from: read, changed and followed without the stage around it being drawn anew. */
export interface Eye {
  now: () => Orbit;
  look: (orbit: Orbit) => void;
  /** Tells of every change until it is called off. */
  follow: (told: (orbit: Orbit) => void) => () => void;
}

interface Store {
  getState: () => { orbit: Orbit };
  setState: (state: { orbit: Orbit }) => void;
  subscribe: (told: (now: { orbit: Orbit }, before: { orbit: Orbit }) => void) => () => void;
}

/** The eye whose place a store holds. */
export function eyeIn(store: Store): Eye {
  return {
    now: () => store.getState().orbit,
    look: (orbit) => store.setState({ orbit }),
    follow: (told) => store.subscribe((now, before) => now.orbit !== before.orbit && told(now.orbit)),
  };
}
