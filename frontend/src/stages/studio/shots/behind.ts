import type { Shapes } from "../../../api/client";
import type { Setting } from "../kinds";

export type Kept = NonNullable<Shapes["ChangeShot"]["only"]>[number];

/** What everything that a shot holds is called, and which fields of its setting that is. */
const CALLED: Record<Kept, [string, ...(keyof Setting)[]]> = {
  set: ["the set", "set"],
  units: ["the products", "units"],
  lamps: ["the light", "lamps"],
  surround: ["the surround", "surround"],
  camera: ["the camera", "camera"],
  finishes: ["the finishes", "finishes", "zones"],
  marks: ["the marks", "marks"],
  hidden: ["what is shown", "hidden"],
  form: ["the form"],
};

/** What an update of a shot would take over: the things that are other than when it was kept, with their words. */
export function behindIn(shot: Shapes["Shot"], stored: Setting, formHead: number): [Kept, string][] {
  const same = (name: keyof Setting) => JSON.stringify(shot.setting[name]) === JSON.stringify(stored[name]);
  const changed = (Object.keys(CALLED) as Kept[]).filter((kept) => {
    const [, ...fields] = CALLED[kept];
    return kept === "form" ? shot.form_edit !== formHead : !fields.every(same);
  });
  return changed.map((kept) => [kept, CALLED[kept][0]]);
}
