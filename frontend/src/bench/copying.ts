import { useEffect } from "react";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import { api, type Shapes } from "../api/client";
import { ask, at, seen, useWork } from "../api/queries";
import { tr } from "../words/words";
import type { Command } from "./commands";
import { typing } from "./keys";
import { useBench } from "./store";

type CopyOf = Shapes["CopyOf"];

/** What was copied last: an address, so that another window and another project can paste it. */
const useCopied = create<{ of: CopyOf | null; said: string }>()(
  persist(() => ({ of: null as CopyOf | null, said: "" }), { name: "hollow-marble-copied" }),
);
window.addEventListener("storage", (event) => event.key === "hollow-marble-copied" && useCopied.persist.rehydrate());

/** Something of a document that can be copied, and what it is called. */
export interface Copyable {
  what: CopyOf["what"];
  items: string[];
  said: string;
}

interface Copying {
  project: string;
  /** The document that is worked on. */
  document: string;
  /** What is picked and would be copied. */
  thing: Copyable | undefined;
  /** What to do first where nothing is. */
  hint: string;
  /** What each kind of thing is pasted on here, and what that is called. */
  onto?: Partial<Record<CopyOf["what"], { id: string | undefined; name?: string }>>;
}

/** Takes something along, to be pasted anywhere: as it is now, whatever becomes of it. */
export function copy(project: string, document: string, thing: Copyable): void {
  const { what, items, said } = thing;
  useCopied.setState({ of: { project, document, at: seen(document) ?? 0, what, items }, said });
  useBench.getState().notify(tr`Copied ${said}.`);
}

/** Copy and paste, by key, by word and by the system's own paste. */
export function useCopying(copying: Copying): Command[] {
  const { project, document, thing, hint, onto } = copying;
  const { of, said: copied } = useCopied();
  const work = useWork(document);
  const paste = () => {
    if (!of) return;
    work(() =>
      ask(document, (headers) =>
        api.POST("/api/projects/{project}/documents/{document}/paste", {
          ...at(project, document),
          headers,
          body: { of, onto: onto?.[of.what]?.id ?? null, called: onto?.[of.what]?.name ?? "" },
        }),
      ),
    );
  };
  useEffect(() => {
    const pasted = (event: ClipboardEvent) => {
      if (typing(event as unknown as KeyboardEvent) || event.defaultPrevented) return;
      if (event.clipboardData?.files.length || window.document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      paste();
    };
    window.addEventListener("paste", pasted);
    return () => window.removeEventListener("paste", pasted);
  });
  return [
    {
      id: "copy",
      name: thing ? tr`Copy ${thing.said}` : tr("Copy"),
      group: "Change",
      key: "mod+c",
      hidden: true,
      cannot: thing ? undefined : hint,
      does: tr("Copy it, to paste here, on another sheet, in another project."),
      means: tr("clipboard duplicate"),
      likely: 2,
      run: () => thing && copy(project, document, thing),
    },
    {
      id: "paste",
      name: copied ? tr`Paste ${copied}` : tr("Paste"),
      group: "Change",
      key: "mod+v",
      hidden: true,
      // the system's own paste brings pictures from elsewhere by the same key
      byEvent: true,
      cannot: of ? undefined : tr("Nothing was copied yet."),
      does: tr("Put what was copied here."),
      means: tr("clipboard insert"),
      likely: 2,
      run: paste,
    },
  ];
}

/** Pictures of the system's clipboard come in like files. */
export function usePastedFiles(onFiles: (files: File[]) => void): void {
  useEffect(() => {
    const pasted = (event: ClipboardEvent) => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (!files.length || typing(event as unknown as KeyboardEvent)) return;
      event.preventDefault();
      onFiles(files);
    };
    window.addEventListener("paste", pasted, true);
    return () => window.removeEventListener("paste", pasted, true);
  });
}
