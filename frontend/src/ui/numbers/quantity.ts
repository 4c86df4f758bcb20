import { tr } from "../../words/words";

/** Numbers as people write them: sums, units, either decimal sign. */

/** What may be typed after a number, by the unit its field is kept in, and how many of that unit one of it is. */
const TYPED: Record<string, Record<string, number>> = {
  // one inch is 25.4 mm exactly (international yard and pound agreement, 1959)
  mm: {
    mm: 1,
    cm: 10,
    m: 1000,
    in: 25.4,
    inch: 25.4,
    inches: 25.4,
    '"': 25.4,
    "″": 25.4,
    ft: 304.8,
    "'": 304.8,
    "′": 304.8,
  },
  "°": { "°": 1, deg: 1, rad: 180 / Math.PI, turn: 360, turns: 360 },
  stops: { stop: 1, stops: 1, ev: 1 },
  K: { k: 1 },
  "%": { "%": 1 },
  min: { min: 1, s: 1 / 60, h: 60 },
  px: { px: 1 },
};

/** A number being worked out: how much, and of how many units it is a product. */
interface Term {
  value: number;
  units: number;
}

class Unreadable extends Error {}

const NUMBER = /^(?:(\d+)\s+(\d+)\/(\d+)|\d+(?:[.,]\d+)*(?:e[+-]?\d+)?|[.,]\d+)/i;
const UNIT = /^(?:[a-z]+|°|%|"|″|'|′)/i;

/**
 * What somebody typed into a field, in the field's unit; a sentence where it cannot be read.
 *
 * @param unit the unit the field is kept in
 * @param plain how many of that unit a number without one is (25.4 where a length is shown in inches)
 */
export function readQuantity(typed: string, unit = "", plain = 1): number | string {
  const units = TYPED[unit] ?? {};
  let rest = typed.trim().replaceAll("−", "-").replaceAll("×", "*").replaceAll("÷", "/");
  const take = (pattern: RegExp): RegExpExecArray | null => {
    rest = rest.trimStart();
    const found = pattern.exec(rest);
    if (found) rest = rest.slice(found[0].length);
    return found;
  };
  const whole = (): Term => {
    let sum = product();
    for (let sign = take(/^[+-]/); sign; sign = take(/^[+-]/)) {
      const other = product();
      // beside one with a unit a plain number is of the unit that is shown
      const both = sum.units === other.units ? [sum, other] : [withUnit(sum), withUnit(other)];
      const [a, b] = both as [Term, Term];
      sum = { value: sign[0] === "+" ? a.value + b.value : a.value - b.value, units: a.units };
    }
    return sum;
  };
  const withUnit = (term: Term): Term => {
    if (term.units > 1 || term.units < 0) throw new Unreadable();
    return term.units === 1 ? term : { value: term.value * plain, units: 1 };
  };
  const product = (): Term => {
    let made = single();
    for (let sign = take(/^[*/]/); sign; sign = take(/^[*/]/)) {
      const other = single();
      made =
        sign[0] === "*"
          ? { value: made.value * other.value, units: made.units + other.units }
          : { value: made.value / other.value, units: made.units - other.units };
    }
    return made;
  };
  const single = (): Term => {
    const sign = take(/^[+-]/)?.[0] === "-" ? -1 : 1;
    let term: Term;
    if (take(/^\(/)) {
      term = whole();
      if (!take(/^\)/)) throw new Unreadable();
    } else {
      const found = take(NUMBER);
      if (!found) throw new Unreadable();
      const [text, wholes, upper, lower] = found;
      term = { value: wholes ? Number(wholes) + Number(upper) / Number(lower) : plainNumber(text), units: 0 };
    }
    const word = take(UNIT)?.[0].toLowerCase();
    if (word !== undefined) {
      const factor = units[word];
      if (factor === undefined || term.units !== 0) throw new Unreadable();
      term = { value: term.value * factor, units: 1 };
    }
    return { value: sign * term.value, units: term.units };
  };
  try {
    const { value } = withUnit(whole());
    if (!rest.trim() && Number.isFinite(value)) return value;
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
  }
  return tr`“${typed.trim()}” cannot be read as a number. ${EXAMPLES[unit] ?? "Type one like 62 or 62/2."}`;
}

const EXAMPLES: Record<string, string> = {
  mm: tr("Type one like 62, 62/2 or 1.5in."),
  "°": tr("Type one like 30, 90/4 or 0.5rad."),
  stops: tr("Type one like 1.5 or 2 stops."),
};

/** Digits with a decimal point or a comma; where both stand the last is the decimal sign. */
function plainNumber(text: string): number {
  const last = Math.max(text.lastIndexOf("."), text.lastIndexOf(","));
  const digits = last < 0 ? text : `${text.slice(0, last).replaceAll(/[.,]/g, "")}.${text.slice(last + 1)}`;
  return Number(digits);
}

/** A number with so many digits after the decimal sign. */
export function written(value: number, digits: number, sign: "." | ","): string {
  const text = value.toFixed(digits);
  const bare = Number(text) === 0 ? text.replace("-", "") : text; // there is no minus nothing
  return sign === "." ? bare : bare.replace(".", ",");
}

/** The nearest of 1, 2, 5, 10, 20 … to a step, so that arrow keys go by round numbers in any unit. */
export function roundStep(step: number): number {
  const power = 10 ** Math.floor(Math.log10(step));
  const [near] = [1, 2, 5, 10].map((times) => times * power).sort((a, b) => Math.abs(a - step) - Math.abs(b - step));
  return near!;
}
