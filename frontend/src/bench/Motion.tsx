import type { ReactNode } from "react";
import { useBench } from "./store";

/**
 * Small moving drawings of what tools do. Each shows its end at rest, so that it says the same where nothing may move; what moves
 * is named by the classes `motion-…` of app.css.
 */

const INK = {
  fill: "none",
  stroke: "var(--ink)",
  strokeWidth: 2,
  strokeLinecap: "round",
  strokeLinejoin: "round",
} as const;
const FAINT = { ...INK, stroke: "var(--quiet)", strokeWidth: 1.2 } as const;
const DONE = { ...INK, stroke: "var(--act)", strokeWidth: 2.4 } as const;
const BODY = { fill: "var(--plaster)", stroke: "var(--ink)", strokeWidth: 1.4, strokeLinejoin: "round" } as const;

const CURVE = "M40 52C70 10 110 64 160 22";
const BLOCK = "M70 26h60v34H70Z";
/** A block seen from a corner: its top, front and side. */
const TOP = "M70 24 102 12l34 9-32 13Z";
const FRONT = "M70 24v28l34 12V34Z";
const SIDE = "M104 34v30l32-14V21Z";
const CUBE = (
  <g {...BODY}>
    <path d={FRONT} />
    <path d={SIDE} />
    <path d={TOP} />
  </g>
);
const drawn = (path: string, width: number, opacity = 1) => (
  <path {...INK} d={path} pathLength={1} strokeWidth={width} opacity={opacity} className="motion-draw" />
);

const MOTIFS = {
  line: drawn(CURVE, 2.4),
  crisp: drawn(CURVE, 1.2),
  broad: drawn(CURVE, 13, 0.35),
  spray: <g style={{ filter: "blur(4px)" }}>{drawn(CURVE, 17, 0.4)}</g>,
  lift: (
    <>
      <path {...FAINT} d={CURVE} strokeDasharray="34 30 200" />
      <path {...INK} d={CURVE} strokeWidth={2.4} className="motion-leave" />
    </>
  ),
  guide: (
    <>
      <path {...FAINT} d="M30 56 170 16" strokeDasharray="7 3 1 3" />
      {drawn("M50 50.3 150 21.7", 2.4)}
    </>
  ),
  oval: (
    <>
      <ellipse {...FAINT} cx="100" cy="37" rx="50" ry="21" strokeDasharray="7 3 1 3" />
      <ellipse {...INK} cx="100" cy="37" rx="50" ry="21" pathLength={1} className="motion-draw" />
    </>
  ),
  converging: (
    <g {...FAINT}>
      {[12, 24, 37, 50, 62].map((y) => (
        <path key={y} d={`M24 37 176 ${y}`} pathLength={1} className="motion-draw" />
      ))}
    </g>
  ),
  block: <g className="motion-appear">{CUBE}</g>,
  halves: (
    <>
      <path {...FAINT} d="M60 14h80v46H60Z" />
      <path {...DONE} d="M60 14 140 60M140 14 60 60M100 14v46" pathLength={1} className="motion-draw" />
    </>
  ),
  pick: (
    <>
      {[60, 84, 108, 132].map((x) => (
        <rect key={x} x={x} y="34" width="7" height="7" fill="var(--ink)" />
      ))}
      {[84, 108].map((x) => (
        <rect key={x} x={x - 1.5} y="32.5" width="10" height="10" fill="var(--pick)" className="motion-appear" />
      ))}
    </>
  ),
  loop: (
    <>
      <path {...BODY} d="M84 28h32v20H84Z" />
      <path
        {...INK}
        stroke="var(--pick)"
        strokeDasharray="5 4"
        d="M66 38c0-22 68-26 68 0s-68 22-68 0Z"
        className="motion-appear"
      />
    </>
  ),
  more: (
    <g fill="none" stroke="var(--quiet)">
      <path d="M52 14h96v46H52ZM76 14v46M100 14v46M124 14v46M52 37h96" />
      <path fill="var(--pick)" opacity="0.6" d="M76 37h24v23H76Z" stroke="none" />
      <path fill="var(--pick)" opacity="0.4" d="M52 14h72v46H52Z" stroke="none" className="motion-appear" />
    </g>
  ),
  fill: (
    <>
      <path {...BODY} fill="var(--act)" d="M66 56C58 30 74 14 100 14s42 16 34 42Z" className="motion-tint" />
      <path {...INK} d="M66 56C58 30 74 14 100 14s42 16 34 42Z" />
    </>
  ),
  fade: (
    <>
      {[0, 1, 2, 3, 4, 5, 6, 7].map((k) => (
        <rect
          key={k}
          x={52 + 12 * k}
          y="16"
          width="12"
          height="42"
          fill="var(--ink)"
          opacity={0.85 - 0.11 * k}
          className="motion-appear"
        />
      ))}
    </>
  ),
  move: (
    <>
      <path {...FAINT} d="M52 24h30v28H52Z" strokeDasharray="3 3" />
      <path {...BODY} d="M112 24h30v28h-30Z" className="motion-across" />
    </>
  ),
  turn: <path {...BODY} d={BLOCK} className="motion-turn" />,
  size: <path {...BODY} d={BLOCK} className="motion-size" />,
  push: (
    <>
      <path {...FAINT} d="M58 52h84" />
      <path {...BODY} d="M58 60V52c20 0 22-30 42-30s22 30 42 30v8Z" className="motion-rise" />
    </>
  ),
  extrude: (
    <>
      <g {...BODY}>
        <path d={FRONT} />
        <path d={SIDE} />
        <path d={TOP} />
      </g>
      <g {...BODY} className="motion-rise">
        <path d="M80 22v-12l14 5v12Z M94 27V15l18-7v12Z" fill="var(--raised)" />
        <path d="M80 10 98 3l14 5-18 7Z" fill="var(--pick)" />
      </g>
    </>
  ),
  inset: (
    <>
      <path {...BODY} d="M60 12h80v50H60Z" />
      <path
        {...DONE}
        d="M78 23h44v28H78ZM60 12l18 11M140 12l-18 11M140 62l-18-11M60 62l18-11"
        className="motion-appear"
      />
    </>
  ),
  round: (
    <>
      <path {...FAINT} d="M62 62V14h76v48" strokeDasharray="3 3" />
      <path {...DONE} d="M62 62V38q0-24 24-24h28q24 0 24 24v24" pathLength={1} className="motion-draw" />
    </>
  ),
  tight: (
    <>
      <path {...FAINT} d="M62 62V38q0-24 24-24h28q24 0 24 24v24" strokeDasharray="3 3" />
      <path {...DONE} d="M62 62V14h76v48" pathLength={1} className="motion-draw" />
    </>
  ),
  bridge: (
    <>
      <path {...BODY} d="M50 40h22v22H50ZM128 40h22v22h-22Z" />
      <path
        {...DONE}
        strokeWidth={9}
        opacity={0.75}
        d="M61 40C61 6 139 6 139 40"
        pathLength={1}
        className="motion-draw"
      />
    </>
  ),
  across: (
    <>
      {CUBE}
      <path {...DONE} d="M86 18 120 27v30M86 18v0" pathLength={1} className="motion-draw" />
    </>
  ),
  cut: (
    <>
      <path {...BODY} d={BLOCK} />
      <path {...DONE} d="M60 54C90 50 100 30 142 30" pathLength={1} className="motion-draw" />
    </>
  ),
  quarters: (
    <>
      <path {...BODY} d={BLOCK} />
      <path {...DONE} d="M100 26v34M70 43h60" pathLength={1} className="motion-draw" />
    </>
  ),
  close: (
    <>
      <ellipse {...BODY} fill="var(--canvas)" cx="100" cy="37" rx="38" ry="20" />
      <ellipse {...BODY} cx="100" cy="37" rx="38" ry="20" className="motion-tint" />
    </>
  ),
  mirror: (
    <>
      <path {...FAINT} d="M100 8v58" strokeDasharray="7 3 1 3" />
      <path {...BODY} d="M94 58C66 58 56 44 62 28c4-10 18-12 32-12Z" />
      <path {...BODY} d="M106 58c28 0 38-14 32-30-4-10-18-12-32-12Z" className="motion-appear" />
    </>
  ),
  slide: (
    <>
      <path {...BODY} d="M56 16h88v42H56Z" />
      <path {...DONE} d="M116 16v42" className="motion-across" />
    </>
  ),
  melt: (
    <>
      <path {...BODY} d={BLOCK} />
      <path {...INK} d="M100 26v34" className="motion-leave" />
    </>
  ),
  join: (
    <>
      <path {...FAINT} d="M70 20 100 37 70 54M130 20 100 37l30 17" />
      <rect x="94" y="31" width="12" height="12" fill="var(--pick)" className="motion-appear" />
    </>
  ),
  apart: (
    <>
      <path {...BODY} d="M58 26h38v34H58Z" />
      <path {...BODY} d="M112 26h38v34h-38Z" className="motion-across" />
    </>
  ),
  remove: (
    <>
      <path {...FAINT} d={BLOCK} strokeDasharray="3 3" />
      <path {...BODY} d={BLOCK} className="motion-leave" />
    </>
  ),
  ball: <circle {...BODY} cx="100" cy="37" r="26" className="motion-appear" />,
  can: (
    <g {...BODY} className="motion-appear">
      <path d="M72 20v34c0 8 56 8 56 0V20Z" />
      <ellipse cx="100" cy="20" rx="28" ry="8" />
    </g>
  ),
  hoop: (
    <g {...BODY} className="motion-appear">
      <ellipse cx="100" cy="38" rx="46" ry="22" />
      <ellipse cx="100" cy="36" rx="24" ry="9" fill="var(--canvas)" />
    </g>
  ),
  lathe: (
    <>
      <path {...FAINT} d="M100 6v62" strokeDasharray="7 3 1 3" />
      <path {...DONE} d="M100 12c30 2 14 22 26 34 4 6 2 16-26 16" />
      <path
        {...BODY}
        fillOpacity={0.7}
        d="M100 12c30 2 14 22 26 34 4 6 2 16-26 16s-30-10-26-16c12-12-4-32 26-34Z"
        className="motion-appear"
      />
    </>
  ),
  outline: (
    <>
      <path {...INK} d="M72 60c-8-30 4-48 28-48s36 18 28 48c-2 6-54 6-56 0Z" />
      <path {...BODY} d="M72 60c-8-30 4-48 28-48s36 18 28 48c-2 6-54 6-56 0Z" className="motion-tint" />
    </>
  ),
  ruler: (
    <>
      {CUBE}
      <path {...DONE} d="M148 20v42M143 20h10M143 62h10" pathLength={1} className="motion-draw" />
    </>
  ),
  look: <g className="motion-look">{CUBE}</g>,
  nearer: <g className="motion-size">{CUBE}</g>,
  save: (
    <>
      <path {...INK} d="M66 44v16h68V44" />
      <path {...DONE} d="M100 10v36M88 35l12 12 12-12" className="motion-down" />
    </>
  ),
  open: (
    <>
      <path {...INK} d="M66 44v16h68V44" />
      <path {...DONE} d="M100 48V12M88 23l12-12 12 12" className="motion-rise" />
    </>
  ),
  sheet: <path {...BODY} fill="var(--page)" d="M72 8h42l14 14v44H72Z" className="motion-appear" />,
  words: (
    <g {...INK}>
      {[22, 37, 52].map((y, k) => (
        <path key={y} d={`M58 ${y}h${84 - 22 * k}`} pathLength={1} className="motion-draw" />
      ))}
    </g>
  ),
  point: (
    <>
      <path {...BODY} d="M118 40h34v20h-34Z" />
      <path {...DONE} d="M52 18h40l30 26" pathLength={1} className="motion-draw" />
    </>
  ),
  frame: (
    <>
      <path {...BODY} d="M84 56c-6-22 2-34 16-34s22 12 16 34Z" />
      <path {...DONE} d="M66 22v-8h10M134 22v-8h-10M66 54v8h10M134 54v8h-10" className="motion-appear" />
    </>
  ),
  sun: (
    <>
      <circle {...BODY} cx="96" cy="40" r="24" />
      <circle cx="84" cy="29" r="7" fill="var(--page)" className="motion-across" />
    </>
  ),
  stripes: (
    <>
      <path {...BODY} d="M66 58C58 30 74 12 100 12s42 18 34 46Z" />
      <path {...INK} d="M70 52c20-8 40-8 60 0M68 40c22-9 42-9 64 0M74 28c18-8 34-8 52 0" className="motion-down" />
    </>
  ),
  photograph: (
    <>
      <path {...BODY} d="M58 20h24l7-8h22l7 8h24v42H58Z" />
      <circle {...INK} cx="100" cy="40" r="13" />
      <circle cx="100" cy="40" r="6" fill="var(--act)" className="motion-appear" />
    </>
  ),
  back: <path {...DONE} d="M140 52c0-20-14-30-32-30H66M78 10 64 22l14 12" pathLength={1} className="motion-draw" />,
} satisfies Record<string, ReactNode>;

type Motif = keyof typeof MOTIFS;

/** Which drawing a command has, by its id; where an id means something else in a stage, by the stage and the id. */
const OF: Record<string, Motif> = {
  numbers: "line",
  pencil: "line",
  fineliner: "crisp",
  marker: "broad",
  mist: "spray",
  grain: "spray",
  lifter: "lift",
  "take-colour": "fill",
  mirror: "mirror",
  straightedge: "guide",
  ellipse: "oval",
  sweep: "guide",
  divide: "halves",
  perspective: "converging",
  "construction-box": "block",
  circle: "oval",
  direct: "guide",
  hold: "guide",
  lines: "pick",
  "cut-out": "cut",
  lasso: "loop",
  "Sketch box": "loop",
  region: "fill",
  invert: "more",
  nothing: "remove",
  fill: "fill",
  gradient: "fade",
  "fill-selection": "fill",
  clear: "remove",
  "clear-outside": "remove",
  "move-paint": "move",
  "Sketch light": "sun",
  words: "words",
  callout: "point",
  dimension: "ruler",
  arrow: "point",
  frame: "frame",
  "move-view": "move",
  overview: "sheet",
  "new-layer": "sheet",
  "new-tone": "sheet",
  "new-notes": "words",
  "new-group": "sheet",
  picture: "open",
  "new-sheet": "sheet",
  sprint: "line",
  fit: "frame",
  nearer: "nearer",
  farther: "nearer",
  "turn-left": "turn",
  "turn-right": "turn",
  png: "save",
  "png-2": "save",
  "png-3": "save",
  "png-4": "save",
  pdf: "save",
  svg: "save",
  ora: "save",
  smaller: "crisp",
  larger: "broad",
  paler: "fade",
  darker: "fade",
  points: "pick",
  edges: "pick",
  faces: "more",
  through: "look",
  all: "more",
  "row-pick": "across",
  "band-pick": "more",
  grow: "more",
  shrink: "more",
  linked: "more",
  rest: "more",
  "alike-pick": "more",
  none: "remove",
  move: "move",
  turn: "turn",
  size: "size",
  push: "push",
  snap: "guide",
  extruded: "extrude",
  grown: "extrude",
  inset: "inset",
  bevelled: "round",
  bridged: "bridge",
  row: "across",
  cut: "cut",
  "skin-line": "cut",
  split: "quarters",
  filled: "close",
  mirrored: "mirror",
  slid: "slide",
  fitted: "guide",
  creased: "tight",
  dissolved: "melt",
  welded: "join",
  detached: "apart",
  removed: "remove",
  alike: "mirror",
  stood: "move",
  symmetry: "mirror",
  "over-sheet": "outline",
  box: "block",
  sphere: "ball",
  cylinder: "can",
  tube: "can",
  ring: "hoop",
  disc: "oval",
  grid: "quarters",
  turned: "lathe",
  curve: "line",
  "curve-end": "line",
  "cage-in": "open",
  "solid-in": "open",
  "profile-in": "open",
  "still-in": "open",
  measure: "ruler",
  shown: "look",
  "Form clear": "look",
  "look-3": "look",
  "look-front": "look",
  "look-side": "look",
  "look-top": "look",
  stripes: "stripes",
  mean: "stripes",
  gaussian: "stripes",
  largest: "stripes",
  high: "stripes",
  low: "stripes",
  radius: "stripes",
  polished: "stripes",
  highlight: "stripes",
  reflection: "stripes",
  isophotes: "stripes",
  sections: "cut",
  combs: "guide",
  continuity: "across",
  findings: "look",
  deviation: "outline",
  "Surface draft": "apart",
  wall: "inset",
  balance: "move",
  "side by side": "look",
  "exchange sides": "mirror",
  beside: "stripes",
  faired: "melt",
  soundness: "close",
  lamp: "sun",
  alone: "sun",
  "three-point": "sun",
  camera: "photograph",
  guides: "frame",
  keep: "frame",
  draft: "photograph",
  review: "photograph",
  final: "photograph",
  preview: "look",
  look: "look",
  pin: "point",
  compare: "apart",
  down: "remove",
  undo: "back",
  copy: "apart",
  paste: "open",
};

/** A small moving drawing of what a tool does; nothing where there is none. */
export function Motion(props: { of: string }) {
  const stage = useBench((bench) => bench.stage);
  const motif = OF[`${stage} ${props.of}`] ?? OF[props.of] ?? (props.of.startsWith("out-") ? "save" : null);
  if (!motif) return null;
  return (
    <svg viewBox="0 0 200 74" aria-hidden="true" className="mb-2 w-full bg-canvas">
      {MOTIFS[motif]}
    </svg>
  );
}

/** Whether a command has a drawing. */
export function hasMotion(stage: string, id: string): boolean {
  return `${stage} ${id}` in OF || id in OF || id.startsWith("out-");
}
