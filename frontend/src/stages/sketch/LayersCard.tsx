import { useState } from "react";
import type { Shapes } from "../../api/client";
import type { AnyEdit, Edit } from "../../api/queries";
import { BLEND_MODES } from "../../api/values";
import { type Doing, Doings, menuOf } from "../../bench/Doings";
import { Button, Card, ColourField, Switch, TextField } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";
import { useSketch } from "./store";

type Layer = Shapes["LayerOutline"];

interface LayersProps {
  sheet: Shapes["SheetOutline"];
  layer: string | undefined;
  edit: Edit;
  onMerge: (layer: string) => void;
  onDuplicate: (layer: string) => void;
  onSelectPaint: (layer: string) => void;
}

/** The layers, top first; they are dragged into their order and on to groups. */
export function LayersCard(props: LayersProps) {
  const { sheet, layer, edit } = props;
  const active = sheet.layers.find((candidate) => candidate.id === layer);
  const [dragged, setDragged] = useState<string | null>(null);
  const drop = (target: Layer, where: "above" | "inside") => {
    setDragged(null);
    if (!dragged || dragged === target.id) return;
    if (where === "inside") {
      const place = sheet.layers.filter((other) => other.group === target.id && other.id !== dragged).length;
      return edit({ kind: "move_layer", layer: dragged, group: target.id, place });
    }
    const fellows = sheet.layers.filter((other) => other.group === target.group && other.id !== dragged);
    const place = fellows.findIndex((other) => other.id === target.id) + 1;
    return edit({ kind: "move_layer", layer: dragged, group: target.group ?? null, place });
  };
  return (
    <Card title={tr("Layers")} aside={tr("top first")}>
      <OneStop as="ul" aria-label={tr("Layers")}>
        <Rows {...props} group={null} depth={0} dragged={dragged} onDrag={setDragged} onDrop={drop} />
      </OneStop>
      {active && <ActiveLayer {...props} active={active} />}
    </Card>
  );
}

function Rows(
  props: LayersProps & {
    group: string | null;
    depth: number;
    dragged: string | null;
    onDrag: (layer: string | null) => void;
    onDrop: (target: Layer, where: "above" | "inside") => void;
  },
) {
  const { sheet, layer, edit, group, depth, dragged, onDrag, onDrop } = props;
  const set = useSketch((sketch) => sketch.set);
  const [over, setOver] = useState<string | null>(null);
  const rows = sheet.layers.filter((item) => (item.group ?? null) === group).reverse();
  return rows.map((item) => (
    <li
      key={item.id}
      draggable
      onDragStart={(event) => {
        event.stopPropagation();
        event.dataTransfer.setData("text/plain", item.id);
        onDrag(item.id);
      }}
      onDragEnd={() => onDrag(null)}
      onDragOver={(event) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(item.id);
      }}
      onDragLeave={() => setOver(null)}
      onDrop={(event) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(null);
        onDrop(item, item.kind === "group" ? "inside" : "above");
      }}
    >
      <div
        data-row
        {...menuOf(doingsOf(item, props), () => set({ layer: item.id }))}
        className={`-mx-4 flex items-center gap-2 border-l-[3px] px-[0.8rem] py-0.5 ${item.id === layer ? "border-act bg-raised" : "border-transparent"} ${dragged && over === item.id ? "outline outline-1 outline-pick" : ""}`}
        style={{ paddingLeft: `${0.8 + depth}rem` }}
      >
        <button
          type="button"
          aria-label={item.visible ? tr`Hide ${item.name}` : tr`Show ${item.name}`}
          onClick={() => edit({ kind: "change_layer", layer: item.id, visible: !item.visible })}
          className="w-[24px] shrink-0 text-quiet"
        >
          {item.visible ? "●" : "○"}
        </button>
        <button
          type="button"
          aria-current={item.id === layer}
          onClick={() => set({ layer: item.id })}
          className={`min-w-0 flex-1 truncate text-left ${item.visible ? "" : "text-quiet"}`}
        >
          {item.clipped && <span className="text-quiet">↳ </span>}
          {item.name}
        </button>
        {item.tint && (
          <span data-pigment className="h-3 w-3 shrink-0 border border-vein" style={{ background: item.tint }} />
        )}
        <span className="shrink-0 text-quiet">{about(item)}</span>
      </div>
      {item.kind === "group" && (
        <ul>
          <Rows {...props} group={item.id} depth={depth + 1} />
        </ul>
      )}
    </li>
  ));
}

function about(layer: Layer): string {
  const kind = layer.kind === "ink" ? tr`ink ${layer.strokes}` : tr(layer.kind);
  const mode = layer.mode === "normal" ? "" : ` ${layer.mode}`;
  const opacity = layer.opacity < 1 ? ` ${Math.round(layer.opacity * 100)} %` : "";
  return `${kind}${mode}${opacity}${layer.locked ? tr(" locked") : ""}`;
}

function ActiveLayer(props: LayersProps & { active: Layer }) {
  const { active, edit } = props;
  const change = (fields: Partial<Shapes["ChangeLayer"]>) =>
    edit({ kind: "change_layer", layer: active.id, ...fields } as AnyEdit);
  return (
    <div className="space-y-1.5 pt-1">
      <TextField label={tr("Name")} value={active.name} onChange={(name) => change({ name })} />
      <NumberField
        label={tr("Opacity")}
        value={active.opacity * 100}
        min={0}
        max={100}
        step={5}
        unit="%"
        onChange={(value) => change({ opacity: value / 100 })}
      />
      <label className="flex items-center justify-between gap-3 text-quiet">
        {tr("Lies on as")}
        <select
          aria-label={tr("Blend mode")}
          value={active.mode}
          onChange={(event) => change({ mode: event.target.value as Layer["mode"] })}
          className="border border-vein bg-raised px-1 text-ink"
        >
          {BLEND_MODES.map((mode) => (
            <option key={mode} value={mode}>
              {tr(mode)}
            </option>
          ))}
        </select>
      </label>
      <Switch
        word={tr("Locked")}
        label={tr("Lock layer")}
        on={active.locked}
        onChange={() => change({ locked: !active.locked })}
      />
      {(active.kind === "ink" || active.kind === "tone") && (
        <Switch
          word={tr("Paint stays inside")}
          label={tr("Lock transparency")}
          on={active.lock_paint}
          onChange={() => change({ lock_paint: !active.lock_paint })}
        />
      )}
      <Switch
        word={tr("Clipped to below")}
        label={tr("Clip to the layer below")}
        on={active.clipped}
        onChange={() => change({ clipped: !active.clipped })}
      />
      {active.kind === "tone" && (
        <>
          <ColourField label={tr("Tint")} value={active.tint ?? "#8a8a8a"} onChange={(tint) => change({ tint })} />
          {active.tint && (
            <Button weight="quiet" onClick={() => change({ tint: "none" })}>
              {tr("Take the tint away")}
            </Button>
          )}
        </>
      )}
      <Doings doings={doingsOf(active, props)} />
    </div>
  );
}

/** What can be done with a layer as a whole. */
function doingsOf(layer: Layer, props: LayersProps): Doing[] {
  const { sheet, edit } = props;
  const fellows = sheet.layers.filter((other) => other.group === layer.group);
  const place = fellows.findIndex((other) => other.id === layer.id);
  const to = (group: string | null, to: number) => () =>
    edit({ kind: "move_layer", layer: layer.id, group, place: to });
  const within = layer.group ?? null;
  const lowest = place <= 0 ? tr("It is the lowest here.") : undefined;
  const group = sheet.layers.find((other) => other.id === layer.group);
  const around = sheet.layers.filter((other) => group && other.group === group.group);
  return [
    {
      name: tr("Up"),
      cannot: place >= fellows.length - 1 ? tr("It is the topmost here.") : undefined,
      run: to(within, place + 1),
    },
    { name: tr("Down"), cannot: lowest, run: to(within, place - 1) },
    ...(group ? [{ name: tr("Out of the group"), run: to(group.group ?? null, around.indexOf(group) + 1) }] : []),
    { name: tr("Duplicate"), run: () => props.onDuplicate(layer.id) },
    { name: tr("Merge down"), cannot: lowest, run: () => props.onMerge(layer.id) },
    { name: tr("Select its paint"), run: () => props.onSelectPaint(layer.id) },
    { name: tr("Remove"), run: () => edit({ kind: "remove_layer", layer: layer.id }) },
  ];
}
