import { answer, api, type Shapes } from "../../api/client";
import type { Camera, Lamp, Setting, StudioSet } from "./kinds";

type LampMove = Shapes["LampMoved"]["move"];
type CameraMove = Shapes["CameraMoved"]["move"];
type SetMove = Shapes["SetMoved"]["move"];

export interface Place {
  project: string;
  form: string;
}

const path = (place: Place) => ({ params: { path: { project: place.project } } });

/** A lamp after a move that needs the product. */
export function movedLamp(
  place: Place,
  setting: Setting,
  lamp: string,
  move: LampMove,
  signal?: AbortSignal,
): Promise<{ lamp: Lamp; length: number | null }> {
  return answer(
    api.POST("/api/projects/{project}/staging/lamp", {
      ...path(place),
      body: { form: place.form, setting, lamp, move },
      signal,
    }),
  ) as Promise<{ lamp: Lamp; length: number | null }>;
}

/** The camera after a move that needs the product. */
export async function movedCamera(place: Place, setting: Setting, move: CameraMove): Promise<Camera> {
  const { camera } = await answer(
    api.POST("/api/projects/{project}/staging/camera", { ...path(place), body: { form: place.form, setting, move } }),
  );
  return camera;
}

/** The set after a move that needs the camera. */
export async function movedSet(place: Place, setting: Setting, move: SetMove): Promise<StudioSet> {
  const { set } = await answer(
    api.POST("/api/projects/{project}/staging/set", { ...path(place), body: { form: place.form, setting, move } }),
  );
  return set as StudioSet;
}

interface Touched {
  part: string;
  place: [number, number, number];
  face: string;
}

/** What lies at a place of the picture, px: the part, the place on it in the form, mm, and its face; null beside the product. */
export async function touchedPart(
  place: Place,
  setting: Setting,
  at: [number, number],
  size: [number, number],
): Promise<Touched | null> {
  const found = await answer(
    api.POST("/api/projects/{project}/staging/part", { ...path(place), body: { form: place.form, setting, at, size } }),
  );
  return found.part ? (found as Touched) : null;
}
