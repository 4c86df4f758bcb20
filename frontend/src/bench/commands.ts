import type { ReactNode } from "react";
import { create } from "zustand";
import { capitalised } from "../ui/words";
import { useBench, useSettings } from "./store";

/** Something the designer can do, by its word, its key or the command box. */
export interface Command {
  id: string;
  name: string;
  group: string;
  /** Key as `keys.ts` writes it ("mod+shift+k"); can be changed in settings. */
  key?: string;
  /** What appears at the end of the line instead of the key, e.g. a count. */
  note?: string;
  active?: boolean;
  /** What it can be set to, shown at the foot of the list while the tool is active. */
  options?: ReactNode;
  /** Its options always stand beneath the word instead. */
  open?: boolean;
  /** One sentence: what it does. */
  does?: string;
  /** Other words somebody may look for it by. */
  means?: string;
  /** Why it cannot act now; a sentence that says what to do first. */
  cannot?: string;
  /** It can be taken up before what it acts on is there. */
  waits?: boolean;
  /** Stands behind the fold of its group even where it can act. */
  seldom?: boolean;
  /** Left out of the tool list, but in the command box and the key sheet. */
  hidden?: boolean;
  /** The browser itself tells when its key is pressed; the key is shown, and not listened to. */
  byEvent?: boolean;
  /** How likely it is to be wanted where nobody has used anything yet, 0 to 9. */
  likely?: number;
  run: () => void;
}

/** What commands say of themselves, by their ids. */
export type ToolWords = Record<string, { does: string; means?: string }>;

/** Commands with what they say of themselves. */
export function withWords(commands: Command[], words: ToolWords): Command[] {
  return commands.map((command) => ({ ...words[command.id], ...command }));
}

interface Registry {
  stage: Command[];
  /** Steps in the ledger of the document that is worked on. */
  ledger: Command[];
  bench: Command[];
  recent: string[];
  setStage: (commands: Command[]) => void;
  setLedger: (commands: Command[]) => void;
  setBench: (commands: Command[]) => void;
  used: (id: string) => void;
}

export const useCommands = create<Registry>((set) => ({
  stage: [],
  ledger: [],
  bench: [],
  recent: [],
  setStage: (stage) => set({ stage }),
  setLedger: (ledger) => set({ ledger }),
  setBench: (bench) => set({ bench }),
  used: (id) => set((registry) => ({ recent: [id, ...registry.recent.filter((other) => other !== id)].slice(0, 8) })),
}));

/** Runs a command and remembers it as recent; where it cannot act, it says why. */
export function run(command: Command): void {
  if (command.cannot && !command.waits) {
    useBench.getState().notify(command.cannot);
    return;
  }
  useCommands.getState().used(command.id);
  const { uses, change } = useSettings.getState();
  change({ uses: { ...uses, [command.id]: (uses[command.id] ?? 0) + 1 } });
  command.run();
}

/** How much a command is likely to be wanted: by how often it was used here, and by what most people need first. */
export function wanted(command: Command): number {
  return 3 * Math.log2(1 + (useSettings.getState().uses[command.id] ?? 0)) + (command.likely ?? 0);
}

/** The key of a command, with the designer's own choice first. */
export function keyOf(command: Command): string | undefined {
  return useSettings.getState().keys[command.id] ?? command.key;
}

/** How a key is shown. */
export function keyLabel(key: string): string {
  const words: Record<string, string> = {
    mod: "Ctrl",
    shift: "Shift",
    slash: "/",
    plus: "+",
    minus: "−",
    bracketleft: "[",
    bracketright: "]",
  };
  return key
    .split("+")
    .map((part) => words[part] ?? capitalised(part))
    .join(" ");
}

/** Words that say nothing of what is looked for. */
const EMPTY = new Set(
  "make a an and the of to in on it its my me this that how do i with for from at into is".split(" "),
);

function wordsOf(text: string): string[] {
  return text
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter((word) => word && !EMPTY.has(word));
}

/** How well a command answers to what was typed, by name first and by meaning after; 0 where it does not. */
export function answersTo(command: Command, typed: string): number {
  const asked = wordsOf(typed);
  if (!asked.length) return typed.trim() ? 0 : 1;
  const places: [string[], number][] = [
    [wordsOf(command.name), 8],
    [wordsOf(command.group), 4],
    [wordsOf(command.means ?? ""), 3],
    [wordsOf(command.does ?? ""), 2],
  ];
  let sum = 0;
  for (const word of asked) {
    const best = Math.max(
      ...places.map(([there, worth]) =>
        there.some((one) => one === word) ? worth : there.some((one) => begins(one, word)) ? worth - 0.5 : 0,
      ),
    );
    if (best === 0) return 0;
    sum += best;
  }
  return sum / asked.length;
}

/** Whether one word is the beginning of the other, but for an ending ("rounded" finds "rounding"). */
function begins(there: string, asked: string): boolean {
  if (there.startsWith(asked)) return true;
  const stem = asked.replace(/(ing|ed|es|s|er)$/, "");
  return stem.length > 3 && there.startsWith(stem);
}
