import type { Shapes } from "../../../api/client";
import type { Setting } from "../kinds";

/** What everything that a setting holds is called. */
const CALLED: Record<keyof Setting, string> = {
  set: "the set",
  units: "the products",
  lamps: "the light",
  surround: "the surround",
  camera: "the camera",
  finishes: "the finishes",
  zones: "the finishes",
  marks: "the marks",
  hidden: "what is shown",
};

/** What an update of a shot would take over: the things that are other than when it was kept. */
export function behindIn(shot: Shapes["Shot"], stored: Setting, formHead: number): string[] {
  const names = Object.keys(CALLED) as (keyof Setting)[];
  const changed = names.filter((name) => JSON.stringify(shot.setting[name]) !== JSON.stringify(stored[name]));
  return [...new Set([...changed.map((name) => CALLED[name]), ...(shot.form_edit === formHead ? [] : ["the form"])])];
}
