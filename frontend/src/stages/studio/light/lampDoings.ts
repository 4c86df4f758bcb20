import { type Edit, newId } from "../../../api/queries";
import { copy } from "../../../bench/copying";
import type { Doing } from "../../../bench/Doings";
import { tr } from "../../../words/words";
import { calledOf, type Lamp, type Setting } from "../kinds";
import { movedLamp, type Place } from "../moves";
import { useStudioStage } from "../store";

/** What can be done with a lamp as a whole. */
export function useLampDoings(place: Place, studio: string, stored: Setting, edit: Edit): (lamp: Lamp) => Doing[] {
  const { alone, set } = useStudioStage();
  const second = async (lamp: Lamp, kind: "copy" | "mirror") => {
    const { lamp: made } = await movedLamp(place, stored, lamp.id, { kind });
    const fresh = { ...made, id: newId().slice(0, 8) };
    if (await edit({ kind: "set_lamp", lamp: fresh })) set({ lamp: fresh.id, tool: "lamp" });
  };
  return (lamp) => [
    {
      name: lamp.on !== false ? tr("Switch off") : tr("Switch on"),
      run: () => edit({ amend: { kind: "lamp", id: lamp.id, fields: { on: lamp.on === false } } }),
    },
    {
      name: alone === lamp.id ? tr("With the others") : tr("This lamp alone"),
      run: () => set({ alone: alone === lamp.id ? null : lamp.id, take: null }),
    },
    { name: tr("Another like it"), run: () => second(lamp, "copy") },
    { name: tr("Mirror to the other side"), run: () => second(lamp, "mirror") },
    {
      name: tr("Copy this lamp"),
      run: () =>
        copy(place.project, studio, { what: "lamp", items: [lamp.id], said: tr`the ${tr(calledOf(lamp))} lamp` }),
    },
    { name: tr("Take it away"), run: () => edit({ kind: "remove_lamp", id: lamp.id }) },
  ];
}
