import { useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide } from "three";
import type { Shapes } from "../../../api/client";
import { everyOne } from "../../../view3d/copies";
import type { SkinMesh } from "../../../view3d/partMesh";
import { Skin } from "../../../view3d/Skin";
import { useGeometry } from "../../../view3d/useGeometry";
import type { Setting } from "../kinds";
import { FinishMaterial } from "./FinishMaterial";
import { useLaid } from "./useLaid";
import { useSheets } from "./useSheets";

type Staged = Shapes["StagingShape"];
type Look = Shapes["LookShape"];

interface SkinProps {
  place: { project: string; form: string; setting: Setting };
  part: string;
  mesh: SkinMesh;
  zones: Staged["zones"];
  looks: Staged["looks"];
  gain: number[];
  picked: string | null;
}

/** The skin of a part in its finish, and its zones in theirs. */
export function PartSkin({ part, mesh: body, zones, ...rest }: SkinProps) {
  const own = zones.filter((zone) => zone.part === part);
  const key = JSON.stringify(own);
  // what differs over the points of a finish differs from copy to copy
  const differs = [part, ...own.map((zone) => zone.id)].some((wearer) => {
    const look = rest.looks[wearer];
    return look?.ramp || look?.sheets.colour || look?.sheets.relief || look?.sheets.rough;
  });
  const mesh = differs ? everyOne(body) : body;
  const covers = useMemo(() => coversOf(mesh, part, JSON.parse(key)), [mesh, part, key]);
  return covers.map(({ wearer, triangles }) => (
    <Cover key={wearer} {...rest} mesh={mesh} wearer={wearer} triangles={triangles} whole={!own.length} />
  ));
}

interface CoverProps extends Omit<SkinProps, "part" | "zones"> {
  wearer: string;
  triangles: Uint32Array;
  /** It covers all of the mesh. */
  whole: boolean;
}

/** What wears one finish of a mesh. */
function Cover({ place, mesh, wearer, triangles, whole, looks, gain, picked }: CoverProps) {
  const look = looks[wearer];
  const laid = useLaid({ ...place, wearer, mesh: mesh.meta.key }, look?.sheets);
  const sheets = useSheets(place.project, laid ? look?.sheets : undefined);
  const ramp = look?.ramp && JSON.stringify([look.ramp, look.colour, look.last]);
  const plain = whole && !ramp && !laid;
  const own = useGeometry(() => {
    const made = new BufferGeometry();
    if (plain) return made;
    const { point } = laid ?? {};
    made.setAttribute("position", new BufferAttribute(point ? taken(mesh.positions, 3, point) : mesh.positions, 3));
    made.setAttribute("normal", new BufferAttribute(point ? taken(mesh.normals, 4, point) : mesh.normals, 4, true));
    made.setIndex(new BufferAttribute(laid?.triangles ?? triangles, 1));
    if (laid) made.setAttribute("uv", new BufferAttribute(laid.texture, 2));
    if (look?.ramp) {
      const colours = coloursOf(mesh, look);
      made.setAttribute("color", new BufferAttribute(point ? taken(colours, 3, point) : colours, 3));
    }
    return made;
  }, [mesh, triangles, ramp, laid, plain]);
  const geometry = plain ? mesh.geometry : own;
  return (
    <>
      <Skin mesh={mesh} geometry={geometry} castShadow>
        <FinishMaterial
          look={look}
          gain={gain}
          laid={laid ? { ...sheets, deep: look?.sheets.relief?.[2] ?? 0 } : undefined}
        />
      </Skin>
      {wearer === picked && !whole && (
        <Skin mesh={mesh} geometry={geometry} renderOrder={2}>
          <meshBasicMaterial
            color={PICKED}
            transparent
            opacity={0.45}
            toneMapped={false}
            depthWrite={false}
            side={DoubleSide}
            polygonOffset
            polygonOffsetFactor={-2}
            polygonOffsetUnits={-2}
          />
        </Skin>
      )}
    </>
  );
}

/** Rows of so many numbers each, by their places. */
function taken<Numbers extends Float32Array | Int16Array>(rows: Numbers, width: number, places: Uint32Array): Numbers {
  const found = new (rows.constructor as { new (length: number): Numbers })(places.length * width);
  for (let k = 0; k < places.length; k++)
    for (let column = 0; column < width; column++) found[k * width + column] = rows[places[k]! * width + column]!;
  return found;
}

/** Colours of a mesh's points where its finish's colour runs into another (`Ramp` of the server's finishes). */
function coloursOf(mesh: SkinMesh, look: Look): Float32Array {
  const { axis, begin, end } = look.ramp!;
  const { positions } = mesh;
  let low = Number.POSITIVE_INFINITY;
  for (let at = axis; at < positions.length; at += 3) low = Math.min(low, positions[at]!);
  const colours = new Float32Array(positions.length);
  for (let at = 0; at < positions.length; at += 3) {
    const share = Math.min(1, Math.max(0, (positions[at + axis]! - low - begin) / (end - begin)));
    for (let k = 0; k < 3; k++) colours[at + k] = look.colour[k]! * (1 - share) + look.last![k]! * share;
  }
  return colours;
}

/** Over faces that are being picked: as what is picked is shown everywhere. */
const PICKED = getComputedStyle(document.documentElement).getPropertyValue("--pick").trim();

/** Triangles of a mesh by what their faces wear; those of no zone are the part's. */
function coversOf(mesh: SkinMesh, part: string, zones: Staged["zones"]): { wearer: string; triangles: Uint32Array }[] {
  if (!zones.length) return [{ wearer: part, triangles: mesh.triangles }];
  const wearers = [part, ...zones.map((zone) => zone.id)];
  const worn = new Uint16Array(mesh.patchFace.reduce((most, face) => Math.max(most, face), -1) + 1);
  // the first zone that has a face keeps it
  for (let k = zones.length; k > 0; k--) for (const face of zones[k - 1]!.faces) worn[face] = k;
  const found: number[][] = wearers.map(() => []);
  for (let t = 0; t < mesh.trianglePatch.length; t++) {
    const of = found[worn[mesh.patchFace[mesh.trianglePatch[t]!]!]!]!;
    of.push(mesh.triangles[3 * t]!, mesh.triangles[3 * t + 1]!, mesh.triangles[3 * t + 2]!);
  }
  return wearers.flatMap((wearer, k) => (found[k]!.length ? [{ wearer, triangles: new Uint32Array(found[k]!) }] : []));
}
