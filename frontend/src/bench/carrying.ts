import type { DragEvent } from "react";
import { create } from "zustand";
import { api, type Shapes } from "../api/client";
import { ask, at, refresh } from "../api/queries";
import { type Stage, useBench } from "./store";

/** What can be carried from one stage to another: a take, or a view of a sheet. */
export type Carried = { kind: "take"; id: string; name: string } | { kind: "view"; sheet: string; view: string };

/** The stages a thing can be put down in. */
const GOES: Record<Carried["kind"], readonly Stage[]> = { take: ["Sketch", "Review"], view: ["Form"] };

/** What is carried now; known at once, where a drag's own data is told only when it is dropped. */
export const useCarried = create<{ thing: Carried | null }>(() => ({ thing: null }));

/** Makes an element one to take hold of and carry. */
export function carries(thing: Carried) {
  return {
    draggable: true,
    onDragStart: (event: DragEvent) => {
      event.dataTransfer.setData("text/plain", thing.kind === "take" ? thing.name : "view");
      useCarried.setState({ thing });
    },
    onDragEnd: () => useCarried.setState({ thing: null }),
  };
}

/** Makes an element a place where what is carried goes to a stage. */
export function receives(stage: Stage, put: (thing: Carried) => void) {
  const fits = () => {
    const { thing } = useCarried.getState();
    return thing && GOES[thing.kind].includes(stage) ? thing : null;
  };
  return {
    onDragOver: (event: DragEvent) => {
      if (fits()) event.preventDefault();
    },
    onDrop: (event: DragEvent) => {
      const thing = fits();
      if (!thing) return;
      event.preventDefault();
      useCarried.setState({ thing: null });
      put(thing);
    },
  };
}

/** The stages that take what is carried now. */
export function useTaking(): ReadonlySet<Stage> {
  const thing = useCarried((carried) => carried.thing);
  return new Set(thing ? GOES[thing.kind] : []);
}

type Documents = readonly Shapes["DocumentShape"][];

/** Puts a thing down in a stage, and goes there. */
export async function putDown(project: string, documents: Documents, stage: Stage, thing: Carried): Promise<void> {
  const { sheet, go, openSheet } = useBench.getState();
  const first = (kind: string) => documents.find((document) => document.kind === kind)!.id;
  if (thing.kind === "view") {
    const form = first("form");
    await ask(form, (headers) =>
      api.POST("/api/projects/{project}/forms/{document}/begin", {
        ...at(project, form),
        headers,
        body: { sheet: thing.sheet, view: thing.view, how: "pin" },
      }),
    );
    go("Form");
  } else if (stage === "Review") {
    const board = first("board");
    await ask(board, (headers) =>
      api.POST("/api/projects/{project}/documents/{document}/edits", {
        ...at(project, board),
        headers,
        body: { edit: { kind: "hang_take", take: thing.id, name: thing.name } },
      }),
    );
    go("Review");
  } else {
    const sheets = documents.filter(({ kind }) => kind === "sheet");
    const { id } = sheets.find((one) => one.id === sheet) ?? sheets[0]!;
    await ask(id, (headers) =>
      api.POST("/api/projects/{project}/sheets/{document}/pictures/take", {
        ...at(project, id),
        headers,
        body: { take: thing.id },
      }),
    );
    await refresh(id);
    openSheet(id);
  }
}
