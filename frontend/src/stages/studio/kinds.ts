import type { Shapes } from "../../api/client";

export type Setting = Shapes["Setting"];
export type Lamp = NonNullable<Setting["lamps"]>[number];
export type StudioSet = NonNullable<Setting["set"]>;
export type Unit = NonNullable<Setting["units"]>[number];
export type Surround = NonNullable<Setting["surround"]>;
export type Area = NonNullable<Surround["areas"]>[number];
export type Camera = NonNullable<Setting["camera"]>;
export type Finish = Shapes["Finish"];
export type Zone = NonNullable<Setting["zones"]>[number];
export type Mark = NonNullable<Setting["marks"]>[number];
export type Facts = Shapes["FactsShape"];

/** What wears a finish: a part, or some faces of one. */
export interface Wearer {
  id: string;
  name: string;
}

/** All that wears a finish: every part, and after it its zones. */
export function wearersOf(parts: readonly Wearer[], zones: readonly Zone[]): Wearer[] {
  return parts.flatMap((part) => [
    part,
    ...zones.filter((zone) => zone.part === part.id).map(({ id, name }) => ({ id, name: `${part.name}: ${name}` })),
  ]);
}

/** What wears the finish at a face of a part. */
export function wearerAt(zones: readonly Zone[], part: string, face: string): string {
  return zones.find((zone) => zone.part === part && zone.faces.includes(face))?.id ?? part;
}

/** What a lamp or a card is called. */
export function calledOf(lamp: Lamp): string {
  if (lamp.name) return lamp.name;
  if (lamp.kind === "card") return `${lamp.surface ?? "white"} card`;
  return lamp.role && lamp.role !== "other" ? lamp.role : lamp.kind;
}

/** Whether a distance can be chosen for it. */
export function isFar(lamp: Lamp): boolean {
  return lamp.kind === "far source" || lamp.kind === "sky";
}

/** How wide and tall it is, mm; of what is far away as it looks on the plan. */
export function spanOf(lamp: Lamp): [number, number] {
  if (isFar(lamp)) return [120, 120];
  if ("width" in lamp && "tall" in lamp) return [lamp.width ?? 400, lamp.tall ?? 400];
  const across = ("diameter" in lamp && lamp.diameter) || 60;
  return [across, across];
}
