import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { NoColorSpace, RepeatWrapping, SRGBColorSpace, type Texture, TextureLoader } from "three";
import type { Shapes } from "../../../api/client";

type Kind = "colour" | "relief" | "rough";

/** What is laid on a finish as textures by mm across and up; null where there is none of a kind. */
export function useSheets(project: string, sheets: Shapes["SheetsShape"] | undefined): Record<Kind, Texture | null> {
  const asked = sheets?.finish ?? "";
  return {
    colour: useSheet(project, asked, "colour", sheets?.colour),
    relief: useSheet(project, asked, "relief", sheets?.relief),
    rough: useSheet(project, asked, "rough", sheets?.rough),
  };
}

function useSheet(project: string, finish: string, of: Kind, size: readonly number[] | null | undefined) {
  const { invalidate } = useThree();
  const [wide, tall] = size ?? [0, 0];
  const texture = useMemo(() => {
    if (!wide || !tall) return null;
    const address = `/api/projects/${project}/finish-sheet.png?of=${of}&finish=${encodeURIComponent(finish)}`;
    const made = new TextureLoader().load(address, () => invalidate());
    made.colorSpace = of === "colour" ? SRGBColorSpace : NoColorSpace;
    made.wrapS = made.wrapT = RepeatWrapping;
    made.repeat.set(1 / wide, 1 / tall);
    made.anisotropy = 4;
    return made;
  }, [project, finish, of, wide, tall, invalidate]);
  useEffect(() => () => texture?.dispose(), [texture]);
  return texture;
}
