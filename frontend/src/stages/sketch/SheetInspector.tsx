import { useState } from "react";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import type { Letter } from "../../ui/AxisFields";
import { calm } from "../../ui/calm";
import { ArrangeCard } from "./ArrangeCard";
import { ColourCard } from "./ColourCard";
import { DraftingCard } from "./drafting/DraftingCard";
import type { Drafting } from "./drafting/useDrafting";
import { GuidesCard } from "./GuidesCard";
import { LayersCard } from "./LayersCard";
import { LinesCard } from "./LinesCard";
import { NotesCard } from "./notes/NotesCard";
import type { Notes } from "./notes/useNotes";
import { PageCard } from "./PageCard";
import { PaintCard, type Shift } from "./PaintCard";
import { SheetsCard } from "./SheetsCard";
import { SymmetryCard } from "./SymmetryCard";
import { type SketchTool, useSketch } from "./store";
import { ViewsCard } from "./ViewsCard";

interface InspectorProps {
  project: string;
  sheets: Shapes["DocumentShape"][];
  current: Shapes["DocumentShape"];
  sheet: Shapes["SheetOutline"];
  layer: string | undefined;
  edit: Edit;
  onMerge: (layer: string) => void;
  onDuplicate: (layer: string) => void;
  onSelectPaint: (layer: string) => void;
  onCopyView: (view: string, to: string) => void;
  onLines: (change: Shapes["LinesRequest"]["change"]) => void;
  onMark: (along: Letter | null) => void;
  onShift: (shift: Shift) => void;
  onArrange: (way: Shapes["ArrangeRequest"]["way"], views: string[]) => void;
  tool: SketchTool;
  drafting: Drafting;
  notes: Notes;
}

const Layers = calm(LayersCard);
const Views = calm(ViewsCard);
const Symmetry = calm(SymmetryCard);
const Page = calm(PageCard);
const Sheets = calm(SheetsCard);

/** Numbers and relations of the sheet. */
export function SheetInspector(props: InspectorProps) {
  const picked = useSketch((sketch) => sketch.lines.length > 0);
  const selected = useSketch((sketch) => sketch.selection !== null);
  const note = useSketch((sketch) => sketch.note !== null);
  const [chosen, setChosen] = useState<string[]>([]);
  const { sheet, edit, tool } = props;
  const project = { project: props.project, sheets: props.sheets, current: props.current, sheet };
  const drafts = tool === "perspective" || tool === "construction box" || tool === "circle" || tool === "divide";
  const drafted = sheet.perspective || Object.keys(sheet.edges).length > 0 || sheet.guides.length > 0;
  const painting = selected && sheet.layers.find((layer) => layer.id === props.layer)?.kind === "tone";
  return (
    <>
      {picked && (
        <LinesCard
          onChange={props.onLines}
          onMark={props.onMark}
          edges={sheet.edges}
          faces={(sheet.drafted.box?.faces ?? []).map((one) => one.face)}
        />
      )}
      {painting && <PaintCard onShift={props.onShift} />}
      {(tool === "words" || tool === "callout" || tool === "dimension" || tool === "arrow" || note) && (
        <NotesCard sheet={sheet} notes={props.notes} edit={edit} />
      )}
      {drafts && <DraftingCard sheet={sheet} edit={edit} drafting={props.drafting} />}
      {drafts && sheet.guides.length > 0 && <GuidesCard guides={sheet.guides} edit={edit} />}
      <ColourCard colours={sheet.colours} />
      <Layers
        sheet={sheet}
        layer={props.layer}
        edit={edit}
        onMerge={props.onMerge}
        onDuplicate={props.onDuplicate}
        onSelectPaint={props.onSelectPaint}
      />
      {!drafts && drafted && <DraftingCard sheet={sheet} edit={edit} drafting={props.drafting} />}
      {!drafts && sheet.guides.length > 0 && <GuidesCard guides={sheet.guides} edit={edit} />}
      <Views {...project} edit={edit} onCopyView={props.onCopyView} />
      {sheet.views.length > 1 && (
        <ArrangeCard views={sheet.views} chosen={chosen} onChoose={setChosen} onArrange={props.onArrange} />
      )}
      <Symmetry sheet={sheet} edit={edit} />
      <Page sheet={sheet} edit={edit} />
      <Sheets {...project} edit={edit} />
    </>
  );
}
