import type { Command } from "../bench/commands";
import type { Eye } from "./eye";
import { lookFrom, type Side } from "./orbit";
import { extentOf, type Shown } from "./useParts";

const LOOKS: readonly [id: string, name: string, key: string, side: Side][] = [
  ["look-3", "Three-quarter", "v", "three-quarter"],
  ["look-front", "Front", "a", "front"],
  ["look-side", "Side", "s", "side"],
  ["look-top", "Top", "d", "top"],
];

/** Looking at all that is shown from one of its sides. */
export function lookCommands(eye: Eye, shown: () => Shown[], before?: () => void): Command[] {
  return LOOKS.map(([id, name, key, side]) => ({
    id,
    name,
    group: "Look",
    key,
    run: () => {
      const { target, extent } = extentOf(shown());
      before?.();
      eye.look(lookFrom(side, target, extent));
    },
  }));
}
