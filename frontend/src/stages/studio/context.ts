import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import type { Camera, Facts, Lamp, Setting } from "./kinds";

type Shot = Shapes["Shot"];
type Take = Shapes["TakeShape"];

/** What the cards of the inspector are about, and how they change it. */
export interface StudioProps {
  documents: Shapes["DocumentShape"][];
  project: string;
  studio: string;
  body: Shapes["Studio"];
  stored: Setting;
  formId: string;
  formHead: number;
  parts: Shapes["Part"][];
  shots: Shot[];
  shot: Shot | undefined;
  takes: Take[];
  /** Size of the picture, px. */
  size: [number, number];
  facts: Facts | undefined;
  /** How wide a map of surroundings the smoothest finish wants, px. */
  mapWanted: number | undefined;
  edit: Edit;
  onDraft: (fields: Partial<Setting>) => void;
  onLamp: (lamp: Lamp) => Promise<boolean>;
  onCamera: (camera: Camera) => Promise<boolean>;
}
