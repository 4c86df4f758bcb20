import { useRef } from "react";
import { Problem, type Shapes } from "../../api/client";
import { type Edit, newId, useWork } from "../../api/queries";
import { tr } from "../../words/words";
import type { Camera, Lamp, Setting, Zone } from "./kinds";
import { wearerAt, wearersOf } from "./kinds";
import { movedCamera, movedLamp, movedSet, type Place, touchedPart } from "./moves";
import { type StudioTool, useStudioHand, useStudioStage } from "./store";

interface Wires {
  place: Place;
  stored: Setting | undefined;
  size: [number, number];
  parts: Shapes["Part"][];
  commit: Edit;
  draft: (fields: Partial<Setting>) => void;
  doneLamp: (lamp: Lamp) => Promise<boolean>;
  doneCamera: (camera: Camera) => Promise<boolean>;
}

type Touch = (at: [number, number], lifted: boolean) => void;

/** What a touch of the picture does, by the tool that is worked with. */
export function useTouches(wires: Wires): Partial<Record<StudioTool, Touch>> {
  const { place, stored, size, parts, commit, draft, doneLamp, doneCamera } = wires;
  const work = useWork();
  const state = useStudioStage();
  const asking = useRef<AbortController | null>(null);
  const touching = useRef<Promise<void> | null>(null);
  const gathered = useRef<{ zone: Zone; faces: Set<string>; adding: boolean; fresh: boolean } | null>(null);
  if (!stored) return {};
  const lamps = stored.lamps ?? [];
  const zones = stored.zones ?? [];
  const lamp = lamps.find((one) => one.id === state.lamp) ?? lamps[0];

  const highlight: Touch = (at, lifted) => {
    if (!lamp) return;
    asking.current?.abort();
    const call = new AbortController();
    asking.current = call;
    const put = async () => {
      const moved = await movedLamp(place, stored, lamp.id, { kind: "highlight", at, size }, call.signal);
      if (call.signal.aborted) return;
      useStudioHand.setState({ length: moved.length, touched: { lamp: lamp.id, at } });
      if (lifted) await doneLamp(moved.lamp);
      else draft({ lamps: lamps.map((one) => (one.id === lamp.id ? moved.lamp : one)) });
    };
    if (lifted) void work(put);
    // on the way there may be no product under the pen; what is told of it then is told where it is lifted
    else put().catch(() => undefined);
  };
  const focus: Touch = (at, lifted) => {
    if (lifted) void work(async () => doneCamera(await movedCamera(place, stored, { kind: "focus", at, size })));
  };
  const choose: Touch = (at, lifted) => {
    if (!lifted) return;
    void work(async () => {
      const touched = await touchedPart(place, stored, at, size);
      if (touched) state.set({ wearer: wearerAt(zones, touched.part, touched.face) });
    });
  };
  const wear: Touch = (at, lifted) => {
    const { wearing } = state;
    const finish = wearing && stored.finishes?.[wearing.wearer];
    if (!lifted || !finish) return;
    void work(async () => {
      const touched = await touchedPart(place, stored, at, size);
      const there = touched && wearerAt(zones, touched.part, touched.face);
      const wearer = wearersOf(parts, zones).find((one) => one.id === there);
      if (wearer) await commit({ kind: "set_finish", part: wearer.id, name: wearer.name, finish });
    });
  };
  /** Draws over faces: they come into the zone that is worked on or a new one, or leave it where the first one was in it. */
  const gather: Touch = (at, lifted) => {
    if (touching.current && !lifted) return; // the next place is looked up when this one is
    const before = touching.current;
    const look = async () => {
      await before;
      const touched = await touchedPart(place, stored, at, size);
      if (!touched) return;
      if (!gathered.current) {
        const own = zones.find((zone) => zone.id === state.wearer && zone.part === touched.part);
        const faces = new Set(own?.faces);
        const number = zones.filter((zone) => zone.part === touched.part).length + 1;
        const zone = own ?? { id: newId().slice(0, 8), part: touched.part, name: tr`Zone ${number}`, faces: [] };
        gathered.current = { zone, faces, adding: !faces.has(touched.face), fresh: !own };
        if (!own) state.set({ wearer: zone.id });
      }
      const { zone, faces, adding } = gathered.current;
      if (touched.part !== zone.part || faces.has(touched.face) === adding) return;
      if (adding) faces.add(touched.face);
      else faces.delete(touched.face);
      const others = zones.filter((other) => other.id !== zone.id);
      draft({ zones: faces.size ? [{ ...zone, faces: [...faces] }, ...others] : others });
    };
    const looked = look();
    const mine = looked.catch(() => undefined);
    touching.current = mine;
    void mine.then(() => {
      if (touching.current === mine) touching.current = null;
    });
    if (!lifted) return;
    void work(async () => {
      await looked;
      const done = gathered.current;
      gathered.current = null;
      if (!done) throw new Problem(tr("There is no product there. Touch the product."));
      const { zone, faces, fresh } = done;
      if (faces.size) await commit({ kind: "put_zone", zone: { ...zone, faces: [...faces] } });
      else {
        state.set({ wearer: zone.part });
        if (!fresh) await commit({ kind: "remove_zone", id: zone.id });
      }
    });
  };
  const lay: Touch = (at, lifted) => {
    const marks = stored.marks ?? [];
    const mark = marks.find((one) => one.id === state.mark) ?? marks.at(-1);
    if (!lifted || !mark) return;
    void work(async () => {
      const touched = await touchedPart(place, stored, at, size);
      if (!touched) throw new Problem(tr("There is no product there. Touch the product."));
      const fields = { part: touched.part, at: touched.place };
      await commit({ amend: { kind: "mark", id: mark.id, fields } });
    });
  };
  const hang =
    (kind: "horizon" | "foot"): Touch =>
    (at, lifted) => {
      if (!lifted) return;
      void work(async () => {
        await commit({ kind: "build_set", set: await movedSet(place, stored, { kind, at, size }) });
        state.set({ tool: "set" });
      });
    };
  return {
    highlight,
    focus,
    finish: choose,
    wear,
    faces: gather,
    mark: lay,
    horizon: hang("horizon"),
    foot: hang("foot"),
  };
}
