import { type Command, withWords } from "../../bench/commands";
import { Button } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { capitalised } from "../../ui/words";
import { tr } from "../../words/words";

import { CurveOptions } from "./built/CurveOptions";
import { UNPICKED, useCurve } from "./built/curve";
import { BESIDE_NOTES } from "./FormProbe";
import { ShownOptions, SnapOptions, StartOptions, StepOptions } from "./options";
import { FIRST, type StartKind, type StartShape } from "./starts";
import { BESIDES, type FormState, type HandleKind, type PickHow, type PickKind } from "./store";
import { drawsLine, STEP_TOOLS, type StepTool } from "./tools";
import { FORM_WORDS } from "./words";

export interface FormDoings {
  state: FormState;
  /** Whether there is a part to work on. */
  part: boolean;
  /** Something was parted off it, or it was parted off another. */
  parted: boolean;
  /** Whether a curve is worked on. */
  curve: boolean;
  /** Whether what is worked on has a cage to be picked and shaped. */
  shaped: boolean;
  /** Why the part worked on cannot be shaped. */
  held: string | undefined;
  /** What symmetry is on, in words; nothing where it is off. */
  symmetry: string | undefined;
  choose: (kind: PickKind) => void;
  convert: (kind: PickKind) => number[];
  /** Looking at the form from its sides. */
  looks: Command[];
  apply: (tool: StepTool, numbers?: object) => void;
  slide: (tool: StepTool, numbers: object) => void;
  pickMore: (how: PickHow) => void;
  nudge: (across: number, up: number) => void;
  begin: (start: StartShape) => void;
  download: (format: string) => void;
  pickAll: () => void;
  bringIn: (still: boolean) => void;
  bringSolids: () => void;
  bringProfiles: () => void;
  finishCurve: (closed: boolean) => void;
  mirror: () => void;
}

const STARTS = (Object.keys(FIRST) as StartKind[]).filter((kind) => kind !== "outlined");

const ON = ["nothing", "grid", "points", "lines"] as const;
const HANDLES: Record<HandleKind, { name: string; key: string }> = {
  move: { name: tr("Move"), key: "m" },
  turn: { name: tr("Turn"), key: "t" },
  size: { name: tr("Size"), key: "z" },
  push: { name: tr("Push"), key: "shift+p" },
};
const ARROWS = [
  ["left", "left", -1, 0],
  ["right", "right", 1, 0],
  ["up", "up", 0, 1],
  ["down", "down", 0, -1],
] as const;

/** The tool list of Form. */
export function formCommands(does: FormDoings): Command[] {
  const { state } = does;
  const { set } = state;
  const nothing = does.part ? undefined : NO_PART;
  const caged = nothing ?? (does.shaped ? undefined : NO_CAGE);
  const unpicked = caged ?? (state.items.length ? undefined : tr("Pick a point, an edge or a face first."));
  return withWords(listed(), FORM_WORDS);

  function listed(): Command[] {
    return [
      {
        id: "points",
        cannot: caged,
        likely: 5,
        name: tr("Points"),
        group: "Pick",
        key: "p",
        active: state.kind === "points" && state.tool === "pick",
        run: () => does.choose("points"),
      },
      {
        id: "edges",
        cannot: caged,
        likely: 5,
        name: tr("Edges"),
        group: "Pick",
        key: "g",
        active: state.kind === "edges" && state.tool === "pick",
        run: () => does.choose("edges"),
      },
      {
        id: "faces",
        cannot: caged,
        likely: 6,
        name: tr("Faces"),
        group: "Pick",
        key: "f",
        active: state.kind === "faces" && state.tool === "pick",
        run: () => does.choose("faces"),
      },
      {
        id: "through",
        cannot: caged,
        name: tr("Through"),
        group: "Pick",
        key: "h",
        note: state.through ? tr("on") : undefined,
        run: () => set({ through: !state.through }),
      },
      {
        id: "lasso",
        cannot: caged,
        name: tr("Gather in a loop"),
        group: "Pick",
        key: "q",
        note: state.lasso ? tr("on") : undefined,
        run: () => set({ lasso: !state.lasso }),
      },
      {
        id: "all",
        name: tr("Pick all"),
        group: "Pick",
        key: "mod+a",
        hidden: true,
        run: does.pickAll,
      },
      {
        id: "row-pick",
        name: tr("Row"),
        group: "Pick",
        key: "r",
        cannot: unpicked,
        run: () => does.pickMore("row"),
      },
      {
        id: "band-pick",
        name: tr("Band"),
        group: "Pick",
        key: "e",
        cannot: unpicked,
        run: () => does.pickMore("band"),
      },
      {
        id: "grow",
        name: tr("More around it"),
        group: "Pick",
        key: "u",
        cannot: unpicked,
        run: () => does.pickMore("grow"),
      },
      {
        id: "shrink",
        name: tr("Less"),
        group: "Pick",
        key: "y",
        cannot: unpicked,
        run: () => does.pickMore("shrink"),
      },
      {
        id: "linked",
        name: tr("Whole piece"),
        group: "Pick",
        key: "o",
        cannot: unpicked,
        run: () => does.pickMore("linked"),
      },
      {
        id: "rest",
        name: tr("Everything else"),
        group: "Pick",
        key: "w",
        cannot: unpicked,
        run: () => does.pickMore("rest"),
      },
      {
        id: "alike-pick",
        name: tr("All like it"),
        group: "Pick",
        key: "shift+k",
        cannot: unpicked,
        run: () => does.pickMore("alike"),
      },
      {
        id: "none",
        name: tr("Pick nothing"),
        group: "Pick",
        key: "escape",
        hidden: true,
        run: () => {
          useCurve.getState().set({ ...UNPICKED, placed: [], hover: null });
          set({ items: [], tool: "pick", measuring: null });
        },
      },
      ...(Object.keys(HANDLES) as HandleKind[]).map((handle) => ({
        id: handle,
        name: HANDLES[handle].name,
        group: "Handle",
        key: HANDLES[handle].key,
        active: state.handle === handle,
        cannot: caged,
        likely: handle === "move" ? 4 : 3,
        run: () => set({ handle }),
      })),
      {
        id: "snap",
        cannot: nothing,
        open: state.snap !== "nothing",
        name: tr("Hold to"),
        group: "Handle",
        key: "shift+h",
        note: state.snap === "nothing" ? undefined : tr(state.snap),
        options: <SnapOptions />,
        run: () => set({ snap: ON[(ON.indexOf(state.snap) + 1) % ON.length] }),
      },
      ...ARROWS.map(([key, name, across, up]) => ({
        id: `nudge-${key}`,
        name: tr`Nudge ${name}`,
        group: "Handle",
        key,
        hidden: true,
        run: () => does.nudge(across, up),
      })),
      ...STEP_TOOLS.map((tool) => ({
        id: tool.kind,
        name: tool.name,
        group: tool.group,
        key: tool.key,
        active: state.tool === tool.kind,
        // any part can stand elsewhere, whatever it is
        cannot: (tool.kind === "stood" ? nothing : caged) ?? does.held ?? unready(tool, state),
        waits: does.part && (does.shaped || tool.kind === "stood") && !does.held,
        likely: LIKELY[tool.kind],
        options: (
          <StepOptions
            tool={tool}
            parted={does.parted}
            onApply={(numbers) => does.apply(tool, numbers)}
            onSlide={(numbers) => does.slide(tool, numbers)}
          />
        ),
        run: () => {
          // edges and points are taken out by making one face of those beside them
          if (tool.kind === "removed" && state.kind !== "faces")
            return does.apply(STEP_TOOLS.find((other) => other.kind === "dissolved")!);
          const fits = !tool.picks.length || (tool.picks.includes(state.kind) && state.items.length > 0);
          const drawn = drawsLine(tool, state.nexts);
          if (tool.atOnce && !drawn && (fits || tool.kind !== "extruded")) return does.apply(tool);
          if (fits) return set({ tool: tool.kind });
          const [kind = state.kind] = tool.picks;
          set({ tool: tool.kind, kind, items: does.convert(kind) });
        },
      })),
      {
        id: "skin-line",
        name: tr("Line on the skin"),
        group: "Change",
        key: "shift+u",
        active: state.tool === "skin-line",
        cannot: nothing ?? (does.curve ? tr("A curve has no skin. Choose a part with one.") : undefined) ?? does.held,
        likely: 4,
        options: (
          <p className="text-quiet">
            {tr(
              "Draw over the part, or touch a line of a sheet behind it: the line lies on the skin, for grooves and cuts to follow.",
            )}
          </p>
        ),
        run: () => set({ tool: state.tool === "skin-line" ? "pick" : "skin-line", items: [] }),
      },
      {
        id: "symmetry",
        cannot: caged ?? does.held,
        likely: 3,
        name: tr("Symmetry"),
        group: "Change",
        key: "j",
        note: does.symmetry,
        run: does.mirror,
      },
      {
        id: "over-sheet",
        name: tr("From a drawing"),
        group: "Begin",
        active: state.tool === "begin",
        likely: does.part ? 1 : 9,
        run: () => set({ tool: state.tool === "begin" ? "pick" : "begin" }),
      },
      {
        id: "curve",
        name: tr("Draw a curve"),
        group: "Begin",
        key: "shift+g",
        active: state.tool === "curve",
        likely: 6,
        options: <CurveOptions onFinish={does.finishCurve} />,
        run: () => {
          useCurve.getState().set({ placed: [], hover: null });
          set({ tool: state.tool === "curve" ? "pick" : "curve", items: [] });
        },
      },
      // only while one is drawn: elsewhere the key belongs to what has the focus
      ...(state.tool === "curve"
        ? [
            {
              id: "curve-end",
              name: tr("End the curve"),
              group: "Begin",
              key: "enter",
              hidden: true,
              run: () => does.finishCurve(false),
            },
          ]
        : []),
      ...STARTS.map((kind) => ({
        id: kind,
        name: capitalised(kind),
        group: "Begin",
        active: state.tool === kind,
        seldom: does.part && (kind === "grid" || kind === "disc" || kind === "tube"),
        likely: does.part ? 0 : BEGINNINGS[kind],
        options: <StartOptions kind={kind} onApply={does.begin} />,
        run: () => set({ tool: kind }),
      })),
      { id: "cage-in", name: tr("Cage from a file"), group: "Begin", run: () => does.bringIn(false) },
      { id: "profile-in", name: tr("Profiles from DXF or SVG"), group: "Begin", run: does.bringProfiles },
      { id: "solid-in", name: tr("Solids from STEP or IGES"), group: "Begin", run: does.bringSolids },
      { id: "still-in", name: tr("Still body from a file"), group: "Begin", run: () => does.bringIn(true) },
      {
        id: "measure",
        cannot: nothing,
        name: tr("Measure"),
        group: "Look",
        key: "shift+n",
        active: state.tool === "measure",
        options: (
          <p className="text-quiet">
            {tr(
              "Touch two places: points of a cage or curve, corners, middles and centres of built parts. The dimension stays true to the form.",
            )}
          </p>
        ),
        run: () => set({ tool: state.tool === "measure" ? "pick" : "measure", measuring: null }),
      },
      ...does.looks,
      {
        id: "shown",
        name: tr("Cage and skin"),
        group: "Look",
        key: "c",
        cannot: nothing,
        open: true,
        options: <ShownOptions />,
        run: () => set({ shown: state.shown === "both" ? "skin" : state.shown === "skin" ? "cage" : "both" }),
      },
      {
        id: "beside",
        name: tr("Probe beside"),
        group: "Look",
        key: "shift+z",
        note: state.beside ? BESIDE_NOTES[state.beside] : undefined,
        run: () => {
          const at = state.beside ? BESIDES.indexOf(state.beside) : -1;
          set({ beside: BESIDES[at + 1] ?? null });
        },
      },
      {
        id: "clear",
        cannot: nothing,
        name: tr("See-through"),
        group: "Look",
        key: "shift+v",
        note: state.clear ? tr("on") : undefined,
        run: () => set({ clear: !state.clear }),
      },
      {
        id: "out-step",
        name: tr("Exact faces as STEP"),
        group: tr("Take along"),
        cannot: nothing,
        run: () => does.download("step"),
      },
      {
        id: "out-profile",
        name: tr("Curve as DXF or SVG"),
        group: tr("Take along"),
        cannot: nothing ?? (does.curve ? undefined : tr("This part is no curve. Choose one first.")),
        options: (
          <span className="flex gap-2">
            <Button onClick={() => does.download("dxf")}>{tr("DXF")}</Button>
            <Button onClick={() => does.download("svg")}>{tr("SVG")}</Button>
          </span>
        ),
        run: () => does.download("dxf"),
      },
      {
        id: "out-within",
        name: tr("How fine skins are"),
        group: tr("Take along"),
        cannot: nothing,
        note: state.within ? `${state.within} mm` : undefined,
        open: true,
        options: (
          <>
            <NumberField
              label={tr("Off by at most")}
              value={state.within}
              unit="mm"
              min={0}
              max={10}
              digits={3}
              onChange={(within) => set({ within: within && Math.max(within, 0.001) })}
            />
            <p className="text-quiet">{tr("At 0 they are as fine as they are worked on.")}</p>
          </>
        ),
        run: () => set({ within: state.within ? 0 : 0.05 }),
      },
      ...(["glb", "stl", "3mf", "ply", "skin.obj", "obj", "cage.ply"] as const).map((format) => ({
        id: `out-${format}`,
        name: {
          glb: tr("Skin as glTF with finishes"),
          stl: tr("Skin as STL"),
          "3mf": tr("Skin as 3MF"),
          ply: tr("Skin as PLY"),
          "skin.obj": tr("Skin as OBJ"),
          obj: tr("Cage as OBJ without creases"),
          "cage.ply": tr("Cage as PLY with creases"),
        }[format],
        group: tr("Take along"),
        cannot: nothing,
        run: () => does.download(format),
      })),
    ];
  }
}

const NO_CAGE = tr("It has no cage: touch the part itself.");
const NO_PART = tr("There is no part yet. Begin one first.");

/** What most hands want first of the steps, and of the beginnings. */
const LIKELY: Partial<Record<StepTool["kind"], number>> = {
  extruded: 8,
  bevelled: 8,
  inset: 7,
  row: 7,
  creased: 6,
  removed: 5,
  slid: 4,
  bridged: 4,
  dissolved: 3,
};
const BEGINNINGS: Partial<Record<StartKind, number>> = { box: 9, turned: 9, ring: 8, sphere: 8, cylinder: 7 };

/** Why what is picked is not what a tool works on. */
function unready(tool: StepTool, state: FormState): string | undefined {
  if (!tool.picks.length) return undefined;
  return tool.picks.includes(state.kind) && state.items.length > 0 ? undefined : tool.hint;
}
