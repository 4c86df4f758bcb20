import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { copy } from "../../bench/copying";
import type { Doing } from "../../bench/Doings";
import { tr } from "../../words/words";
import { useStudioStage } from "./store";

type Lamp = Shapes["Lamp"];

/** What can be done with a lamp as a whole. */
export function useLampDoings(project: string, studio: string, edit: Edit): (lamp: Lamp) => Doing[] {
  const { alone, set } = useStudioStage();
  return (lamp) => [
    {
      name: lamp.on !== false ? tr("Switch off") : tr("Switch on"),
      run: () => edit({ amend: { kind: "lamp", id: lamp.id, fields: { on: lamp.on === false } } }),
    },
    {
      name: alone === lamp.id ? tr("With the others") : tr("This lamp alone"),
      run: () => set({ alone: alone === lamp.id ? null : lamp.id, take: null }),
    },
    {
      name: tr("Copy this lamp"),
      run: () => copy(project, studio, { what: "lamp", items: [lamp.id], said: tr`the ${tr(lamp.role)} lamp` }),
    },
  ];
}
