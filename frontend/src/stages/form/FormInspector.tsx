import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { calm } from "../../ui/calm";
import type { PartMesh } from "../../view3d/partMesh";
import { isShaped } from "../../view3d/partMesh";
import { isCurve } from "../../view3d/useParts";
import { BuildCard } from "./built/BuildCard";
import { CurveCard } from "./built/CurveCard";
import { CurveChanges } from "./built/CurveChanges";
import { SolidCard } from "./built/SolidCard";
import type { Pickable } from "./built/SolidEdges";
import { MeasuresCard } from "./Dimensions";
import { DetailCard } from "./detail/DetailCard";
import type { StepValues } from "./dragging";
import type { Measuring } from "./measuring";
import { PartCard, RecipeCard } from "./PartCard";
import { PartsCard } from "./PartsCard";
import { PickCard } from "./PickCard";
import { ReferencesCard } from "./ReferencesCard";
import type { SeatTo } from "./seat";

interface InspectorProps {
  project: string;
  document: string;
  documents: Shapes["DocumentShape"][];
  form: Shapes["Form"];
  /** Names what the part worked on looks like. */
  meshKey: string | undefined;
  active: Shapes["Part"] | undefined;
  mesh: PartMesh | undefined;
  measuring: Measuring;
  /** What the part weighs, where it has a material and an inside. */
  grams: number | undefined;
  edit: Edit;
  place: (values: StepValues) => Promise<boolean>;
  crease: (numbers: object) => void;
  seatAt: (to: SeatTo) => void;
  /** Open findings by part, where they are known. */
  counts: Record<string, number> | null;
  beginOver: (over: Shapes["BeginRequest"]) => unknown;
  /** Faces and edges of the part worked on, where it is built. */
  pickable: Pickable | undefined;
  /** What is to be known of how it was made. */
  notes: string[];
}

/** The pick's numbers, then the part and its recipe, the parts, what stands behind. */
export function FormInspector(props: InspectorProps) {
  const { active, mesh, place: _place, crease: _crease, seatAt: _seatAt, ...rest } = props;
  return (
    <>
      {active && isCurve(active) ? (
        <>
          <CurveCard {...rest} part={active} />
          <BuildCard {...rest} part={active} />
          <CurveChanges {...rest} part={active} />
        </>
      ) : (
        <>
          {mesh && active && (isShaped(mesh) || active.steps[0]?.kind === "still") && (
            <PickCard {...props} active={active} mesh={mesh} />
          )}
          {mesh && active && <SolidCard {...rest} part={active} stands={props.meshKey} />}
          {mesh && active && <DetailCard {...rest} part={active} mesh={mesh} />}
        </>
      )}
      <WhateverIsPicked {...rest} active={active} />
    </>
  );
}

/** The cards that a pick or another tool changes nothing on. */
const WhateverIsPicked = calm(function WhateverIsPicked(
  props: Omit<InspectorProps, "mesh" | "place" | "crease" | "seatAt">,
) {
  const { active } = props;
  return (
    <>
      {active && <PartCard {...props} active={active} />}
      {active && <RecipeCard {...props} active={active} />}
      <PartsCard {...props} />
      <MeasuresCard {...props} />
      <ReferencesCard {...props} />
    </>
  );
});
