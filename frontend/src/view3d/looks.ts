import type { Command } from "../bench/commands";
import { tr } from "../words/words";
import type { Eye } from "./eye";
import { lookFrom, type Side, turned, zoomed } from "./orbit";
import { extentOf, type Shown } from "./useParts";

const LOOKS: readonly [id: string, name: string, key: string, side: Side][] = [
  ["look-3", tr("Three-quarter"), "v", "three-quarter"],
  ["look-front", tr("Front"), "a", "front"],
  ["look-side", tr("Side"), "s", "side"],
  ["look-top", tr("Top"), "d", "top"],
];

/** Looking at all that is shown from one of its sides. */
export function lookCommands(eye: Eye, shown: () => Shown[], before?: () => void): Command[] {
  const turn = (across: number, up: number) => () => eye.look(turned(eye.now(), across * STEP, up * STEP));
  const zoom = (factor: number) => () => eye.look(zoomed(eye.now(), factor, 1, 1, 2, 2));
  return [
    ...LOOKS.map(([id, name, key, side]) => ({
      id,
      name,
      group: "Look",
      key,
      run: () => {
        const { target, extent } = extentOf(shown());
        before?.();
        eye.look(lookFrom(side, target, extent));
      },
    })),
    { id: "nearer", name: tr("Nearer"), group: "Look", key: "plus", seldom: true, run: zoom(0.8) },
    { id: "farther", name: tr("Farther"), group: "Look", key: "minus", seldom: true, run: zoom(1.25) },
    {
      id: "turn-view-left",
      name: tr("Turn the view left"),
      group: "Look",
      key: "shift+left",
      hidden: true,
      run: turn(-1, 0),
    },
    {
      id: "turn-view-right",
      name: tr("Turn the view right"),
      group: "Look",
      key: "shift+right",
      hidden: true,
      run: turn(1, 0),
    },
    { id: "turn-view-up", name: tr("Turn the view up"), group: "Look", key: "shift+up", hidden: true, run: turn(0, 1) },
    {
      id: "turn-view-down",
      name: tr("Turn the view down"),
      group: "Look",
      key: "shift+down",
      hidden: true,
      run: turn(0, -1),
    },
  ];
}

/** Px of a drag that one step of the keys that turn the view is. */
const STEP = 16;
