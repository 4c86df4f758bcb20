import type { Shapes } from "../../api/client";
import { AxisFields, type Triple, withAxis } from "../../ui/AxisFields";
import { Choice, TextField } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { useReading } from "../../ui/numbers/reading";
import { tr } from "../../words/words";
import { DETAIL_WORDS, saysNothing } from "./detail/fields";

export type StepShape = Shapes["Shape"]["step"];
export type StepKind = StepShape["kind"];
type How = Shapes["PlacedPoints"]["how"];
export type AnyStep = NonNullable<Shapes["Part"]["steps"]>[number];

interface NumberWord {
  as: "number";
  label: string;
  unit?: string;
  min?: number;
  max?: number;
  digits?: number;
  /** The number is shown this many times as large, for per cent. */
  times?: number;
}
interface ChoiceWord {
  as: "choice";
  label: string;
  options: readonly (readonly [string, unknown])[];
}
interface VectorWord {
  as: "vector";
  label: string;
  unit: string;
  times?: number;
}
/** Two numbers, the second where what drives them is brightest. */
interface PairWord {
  as: "pair";
  label: string;
  unit: string;
  times: number;
  min?: number;
}
interface TextWord {
  as: "text";
  label: string;
}
export type Word = NumberWord | ChoiceWord | VectorWord | TextWord | PairWord;

const AXES = [
  ["W", "W"],
  ["D", "D"],
  ["H", "H"],
] as const;

const CAPPED: ChoiceWord = {
  as: "choice",
  label: tr("Ends"),
  options: [
    ["closed", true],
    ["open", false],
  ],
};

/** How what a step builds meets what was there. */
const COMBINED: Record<string, Word> = {
  how: {
    as: "choice",
    label: tr("Is"),
    options: [
      ["joined", "join"],
      ["cut away", "cut away"],
      ["kept in common", "keep common"],
    ],
  },
  blend: { as: "number", label: tr("Seam rounded by"), unit: "mm", min: 0, digits: 2 },
};

/** What the numbers of each kind of step are called; the same for the next one and for one in a recipe. */
const WORDS: { [kind in StepKind]?: Record<string, Word> } = {
  extruded: {
    distance: { as: "number", label: tr("Distance"), unit: "mm", digits: 1 },
    segments: { as: "number", label: tr("Segments"), min: 1, max: 64 },
    along: {
      as: "choice",
      label: tr("Along"),
      options: [
        ["normal", "normal"],
        ["each its own", "normals"],
        ["direction", "direction"],
        ["path", "path"],
      ],
    },
    way: { as: "vector", label: tr("Direction"), unit: "" },
  },
  grown: {
    along: {
      as: "choice",
      label: tr("Grow along"),
      options: [
        ["an offset", "offset"],
        ["a path", "path"],
      ],
    },
    way: { as: "vector", label: tr("Grow by"), unit: "mm" },
    segments: { as: "number", label: tr("Segments"), min: 1, max: 64 },
  },
  inset: {
    width: { as: "number", label: tr("Inset by"), unit: "mm", digits: 1, min: 0.1 },
    single: {
      as: "choice",
      label: tr("Set in"),
      options: [
        ["as one", false],
        ["each by itself", true],
      ],
    },
  },
  bevelled: {
    width: { as: "number", label: tr("Width"), unit: "mm", digits: 1, min: 0.05 },
    segments: { as: "number", label: tr("Segments"), min: 1, max: 12 },
    sharp: {
      as: "choice",
      label: tr("Bevel"),
      options: [
        ["round", false],
        ["sharp", true],
      ],
    },
  },
  bridged: {
    segments: { as: "number", label: tr("Segments"), min: 1, max: 64 },
    arch: { as: "number", label: tr("Arch"), min: -2, max: 2, digits: 2 },
  },
  row: { share: { as: "number", label: tr("At"), unit: "%", min: 2, max: 98, times: 100 } },
  slid: { share: { as: "number", label: tr("Slide"), unit: "%", min: -99, max: 99, times: 100 } },
  fitted: {
    hold_ends: {
      as: "choice",
      label: tr("Ends"),
      options: [
        ["on the line", false],
        ["held", true],
      ],
    },
  },
  cut: {
    through: {
      as: "choice",
      label: tr("Cut"),
      options: [
        ["what faces me", false],
        ["right through", true],
      ],
    },
  },
  creased: { crease: { as: "number", label: tr("Crease"), min: 0, max: 1, digits: 2 } },
  cornered: { crease: { as: "number", label: tr("Crease"), min: 0, max: 1, digits: 2 } },
  welded: { within: { as: "number", label: tr("Within"), unit: "mm", min: 0, digits: 2 } },
  mended: {
    within: { as: "number", label: tr("Join points within"), unit: "mm", min: 0, digits: 3 },
    fill: { as: "number", label: tr("Fill openings up to"), unit: "mm", min: 0, digits: 1 },
  },
  faired: { within: { as: "number", label: tr("No point further than"), unit: "mm", min: 0.01, digits: 2 } },
  mirrored: {
    axis: { as: "choice", label: tr("Across"), options: AXES },
    within: { as: "number", label: tr("Share points within"), unit: "mm", min: 0.001, digits: 3 },
  },
  alike: {
    axis: { as: "choice", label: tr("Across"), options: AXES },
    side: {
      as: "choice",
      label: tr("Like"),
      options: [
        ["right, back, upper", "right"],
        ["left, front, lower", "left"],
      ],
    },
  },
  turned_profile: {
    about: {
      as: "choice",
      label: tr("About"),
      options: [
        ["its upright", "up"],
        ["its level", "across"],
      ],
    },
    at: { as: "number", label: tr("Axis off by"), unit: "mm", digits: 2 },
    angle: { as: "number", label: tr("Turned by"), unit: "°", min: 0.1, max: 360, digits: 1 },
    capped: CAPPED,
    ...COMBINED,
  },
  extruded_profile: {
    distance: { as: "number", label: tr("Distance"), unit: "mm", digits: 2 },
    back: { as: "number", label: tr("And back"), unit: "mm", digits: 2 },
    taper: { as: "number", label: tr("Taper"), unit: "°", min: -60, max: 60, digits: 1 },
    ...COMBINED,
  },
  swept_profile: {
    turn: { as: "number", label: tr("Turned by"), unit: "°", min: -360, max: 360, digits: 1 },
    twist: { as: "number", label: tr("Twist"), unit: "°", min: -3600, max: 3600, digits: 1 },
    scale: { as: "number", label: tr("Grows to"), unit: "%", min: 1, max: 10000, times: 100 },
    capped: CAPPED,
    ...COMBINED,
  },
  railed_profile: { capped: CAPPED, ...COMBINED },
  piped_path: {
    radius: { as: "number", label: tr("Radius"), unit: "mm", min: 0.01, digits: 2 },
    capped: CAPPED,
    ...COMBINED,
  },
  lofted_profiles: {
    straight: {
      as: "choice",
      label: tr("Runs"),
      options: [
        ["smoothly", false],
        ["straight", true],
      ],
    },
    begin: { as: "number", label: tr("Square at its beginning"), min: 0, max: 3, digits: 2 },
    end: { as: "number", label: tr("Square at its end"), min: 0, max: 3, digits: 2 },
    capped: CAPPED,
    ...COMBINED,
  },
  combined: COMBINED,
  rounded: {
    radius: { as: "number", label: tr("Radius"), unit: "mm", min: 0.01, digits: 2 },
    end: { as: "number", label: tr("Radius at the end"), unit: "mm", min: 0, digits: 2 },
  },
  chamfered: { width: { as: "number", label: tr("Width"), unit: "mm", min: 0.01, digits: 2 } },
  hollowed: { wall: { as: "number", label: tr("Wall"), unit: "mm", min: 0.01, digits: 2 } },
  moved_out: { distance: { as: "number", label: tr("Out by"), unit: "mm", digits: 2 } },
  split_solid: {
    axis: { as: "choice", label: tr("Square to"), options: AXES },
    at: { as: "number", label: tr("At"), unit: "mm", digits: 2 },
    gap: { as: "number", label: tr("Gap"), unit: "mm", min: 0, digits: 2 },
    above: {
      as: "choice",
      label: tr("Keeps"),
      options: [
        ["above", true],
        ["below", false],
      ],
    },
  },
  repeated_along: {
    count: { as: "number", label: tr("Count"), min: 2, max: 200 },
    step: { as: "vector", label: tr("Each further by"), unit: "mm" },
  },
  repeated_round: {
    count: { as: "number", label: tr("Count"), min: 2, max: 400 },
    axis: { as: "choice", label: tr("About"), options: AXES },
    at: { as: "vector", label: tr("Axis at"), unit: "mm" },
    angle: { as: "number", label: tr("Over"), unit: "°", min: 0.1, max: 360, digits: 1 },
  },
  mirrored_solid: {
    axis: { as: "choice", label: tr("Across"), options: AXES },
    at: { as: "number", label: tr("At"), unit: "mm", digits: 2 },
  },
  curve_offset: {
    distance: { as: "number", label: tr("To its left by"), unit: "mm", digits: 2 },
    sharp: {
      as: "choice",
      label: tr("Corners"),
      options: [
        ["round", false],
        ["sharp", true],
      ],
    },
  },
  curve_mirrored: {
    along: {
      as: "choice",
      label: tr("About"),
      options: [
        ["its upright", "up"],
        ["its level", "across"],
      ],
    },
    both: {
      as: "choice",
      label: tr("Leaves"),
      options: [
        ["both", true],
        ["the image", false],
      ],
    },
  },
  curve_joined: {
    how: {
      as: "choice",
      label: tr("Joined"),
      options: [
        ["by a line", "straight"],
        ["smoothly", "smooth"],
        ["with even curvature", "curvature"],
      ],
    },
  },
  stood: {
    move: { as: "vector", label: tr("Stand at"), unit: "mm" },
    turn: { as: "vector", label: tr("Turn about"), unit: "°" },
    mirror: { as: "choice", label: tr("Mirrored"), options: [["no", null], ...AXES] },
    apart: { as: "number", label: tr("Apart from the rest"), unit: "mm", digits: 1 },
  },
  ...DETAIL_WORDS,
};

/** What the next step of each kind begins with. */
export const NEXT = {
  extruded: { distance: 8, segments: 1, along: "normal", way: [0, 0, 1] },
  grown: { along: "offset", way: [0, 0, 8], segments: 1 },
  inset: { width: 4, single: false },
  bevelled: { width: 2, segments: 2, sharp: false },
  bridged: { segments: 8, arch: 0.5 },
  row: { share: 0.5 },
  slid: { share: 0.25 },
  fitted: { hold_ends: false },
  cut: { through: false },
  creased: { crease: 0.5 },
  cornered: { crease: 0.5 },
  welded: { within: 0 },
  faired: { within: 1 },
  mirrored: { axis: "W", within: 0.01 },
  alike: { axis: "W", side: "right" },
  stood: { move: [0, 0, 0], turn: [0, 0, 0], mirror: null, apart: 0 },
} as const satisfies Partial<Record<StepKind, object>>;

export type NextKind = keyof typeof NEXT;

/** Words for the numbers of a placed step, which depend on what it does. */
function placedWords(how: How): Record<string, Word> {
  const reach: Word = { as: "number", label: tr("Soft over"), unit: "mm", min: 0, digits: 1 };
  if (how === "push") return { values: { as: "vector", label: tr("Push"), unit: "mm" }, reach };
  const label = { move: "Move by", turn: tr("Turn about"), size: "Size to" }[how];
  return {
    values: {
      as: "vector",
      label,
      unit: { move: "mm", turn: "°", size: "%" }[how],
      times: how === "size" ? 100 : 1,
    },
    reach,
  };
}

/** Whether a step has numbers that can be changed later. */
export function hasNumbers(step: AnyStep): boolean {
  return step.kind === "placed" || step.kind in WORDS;
}

/** Whether a split follows a curve or a surface, and not a plane of its own numbers. */
const isSplitBy = (values: Record<string, unknown>) => "by" in ((values.inputs as object | undefined) ?? {});

/** Whether something was parted off a part, or it is what was parted off another. */
export function isParted(part: { steps: readonly { kind: string }[] } | undefined): boolean {
  return !!part?.steps.some(({ kind }) => ["other_side", "parted_along", "cut_within"].includes(kind));
}

/** The numbers of a step, for the next one or (`of`: its place in the recipe) for one made before. */
export function StepFields(props: {
  kind: AnyStep["kind"];
  values: Record<string, unknown>;
  of?: number;
  /** Something was parted off the part, from which it can stand apart. */
  parted?: boolean;
  /** Hears what was changed. */
  onChange: (fields: Record<string, unknown>) => unknown;
}) {
  const { kind, values, of, parted = false, onChange: change } = props;
  const words = kind === "placed" ? placedWords(values.how as How) : (WORDS[kind as StepKind] ?? {});
  const read = useReading();
  const name = (label: string) => (of === undefined ? label : tr`Step ${of}: ${label.toLowerCase()}`);
  return (
    <div className="space-y-1.5">
      {Object.entries(words).map(([key, word]) => {
        if (key === "way" && kind === "extruded" && values.along !== "direction") return null;
        if ((key === "distance" || key === "way") && values.along === "path") return null;
        if (key === "along" && of !== undefined && kind !== "curve_mirrored") return null; // what a step was made with stays
        if ((key === "axis" || key === "at") && kind === "split_solid" && isSplitBy(values)) return null;
        if (key === "apart" && kind === "stood" && !parted) return null;
        if (saysNothing(kind, key, values)) return null;
        if ((key === "how" || key === "blend") && of === 1) return null; // there is nothing it could meet
        if (word.as === "choice") {
          const [chosen] = word.options.find(([, value]) => value === (values[key] ?? null)) ?? word.options[0]!;
          return (
            <div key={key} className="text-quiet">
              <span className="sr-only">{name(word.label)}</span>
              <Choice
                label={name(word.label)}
                options={word.options.map(([said]) => said)}
                value={chosen}
                onChange={(said) => change({ [key]: word.options.find(([other]) => other === said)![1] })}
              />
            </div>
          );
        }
        if (word.as === "text") {
          return (
            <TextField
              key={key}
              label={name(word.label)}
              value={(values[key] as string | undefined) ?? ""}
              onChange={(text) => text && change({ [key]: text })}
            />
          );
        }
        if (word.as === "pair") {
          const pair = (values[key] as [number, number] | undefined) ?? [0, 0];
          return (
            <fieldset key={key} className="grid grid-cols-2 gap-3">
              <legend className="text-quiet">{word.label}</legend>
              {([0, 1] as const).map((side) => (
                <NumberField
                  key={side}
                  label={side ? tr`${name(word.label)}: bright` : tr`${name(word.label)}: dark`}
                  value={pair[side] * word.times}
                  unit={word.unit}
                  min={word.min}
                  digits={word.times > 1 ? 0 : 1}
                  onChange={(next) =>
                    change({ [key]: side ? [pair[0], next / word.times] : [next / word.times, pair[1]] })
                  }
                />
              ))}
            </fieldset>
          );
        }
        if (word.as === "vector") {
          const vector = (values[key] as Triple | null) ?? [0, 0, 0];
          const times = word.times ?? 1;
          return (
            <fieldset key={key}>
              <legend className="text-quiet">
                {word.label} {read.unit(word.unit)}
              </legend>
              <AxisFields
                label={name(word.label)}
                values={[vector[0] * times, vector[1] * times, vector[2] * times]}
                unit={word.unit}
                digits={times > 1 ? 0 : 1}
                onChange={(next, axis) => change({ [key]: withAxis(vector, axis, next[axis]! / times) })}
              />
            </fieldset>
          );
        }
        const times = word.times ?? 1;
        return (
          <NumberField
            key={key}
            label={name(word.label)}
            value={((values[key] as number | null) ?? 0) * times}
            unit={word.unit}
            min={word.min}
            max={word.max}
            digits={word.digits}
            step={word.digits ? (word.digits > 1 ? 0.05 : 0.5) : 1}
            onChange={(next) =>
              // a second radius of nought is none
              change({
                [key]:
                  kind === "rounded" && key === "end" && !next ? null : (word.digits ? next : Math.round(next)) / times,
              })
            }
          />
        );
      })}
    </div>
  );
}
