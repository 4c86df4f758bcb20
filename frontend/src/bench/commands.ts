import type { ReactNode } from "react";
import { create } from "zustand";
import { capitalised } from "../ui/words";
import { useSettings } from "./store";

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
  /** Shown beneath the word while the tool is active. */
  options?: ReactNode;
  /** Left out of the tool list, but in the command box and the key sheet. */
  hidden?: boolean;
  run: () => void;
}

interface Registry {
  stage: Command[];
  bench: Command[];
  recent: string[];
  setStage: (commands: Command[]) => void;
  setBench: (commands: Command[]) => void;
  used: (id: string) => void;
}

export const useCommands = create<Registry>((set) => ({
  stage: [],
  bench: [],
  recent: [],
  setStage: (stage) => set({ stage }),
  setBench: (bench) => set({ bench }),
  used: (id) => set((registry) => ({ recent: [id, ...registry.recent.filter((other) => other !== id)].slice(0, 8) })),
}));

/** Runs a command and remembers it as recent. */
export function run(command: Command): void {
  useCommands.getState().used(command.id);
  command.run();
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
    bracketleft: "[",
    bracketright: "]",
  };
  return key
    .split("+")
    .map((part) => words[part] ?? capitalised(part))
    .join(" ");
}
