import { useState } from "react";
import { Button, Switch } from "../../ui/controls";
import { readQuantity } from "../../ui/numbers/quantity";
import { tr } from "../../words/words";

export type Place = [x: number, y: number];

/** Px between the samples of a line that is drawn by numbers. */
const EVERY = 4;

/** A line by typed places: px of the page from its upper left corner, one place a line. */
export function NumbersOptions(props: { size: Place; onDraw: (course: Place[]) => void }) {
  const [text, setText] = useState("");
  const [smooth, setSmooth] = useState(true);
  const [closed, setClosed] = useState(false);
  const read = placesOf(text, props.size);
  const wrong = typeof read === "string" ? read : null;
  return (
    <div className="space-y-1">
      <textarea
        aria-label={tr("Places of the line")}
        rows={5}
        placeholder={"600 400\n900 420\n1100 700"}
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="w-full resize-y border border-vein bg-raised px-2 py-1 outline-none focus:border-act"
      />
      <Switch label={tr("Smooth")} on={smooth} onChange={setSmooth} />
      <Switch label={tr("Comes round")} on={closed} onChange={setClosed} />
      {text.trim() && wrong && (
        <p role="status" className="text-[0.86rem] text-wrong">
          {wrong}
        </p>
      )}
      <Button
        weight="act"
        onClick={() => {
          if (typeof read === "string") return;
          props.onDraw(courseThrough(read, smooth, closed));
          setText("");
        }}
      >
        {tr("Draw it")}
      </Button>
      <p className="text-[0.86rem] text-quiet">
        {tr("Across and down, px; the page is")} {props.size[0]} × {props.size[1]}.
      </p>
    </div>
  );
}

/** Places out of what was typed, or the sentence for what cannot be read. */
export function placesOf(text: string, [wide, tall]: Place): Place[] | string {
  const rows = text.split(/[\n;]+/).filter((row) => row.trim());
  const places: Place[] = [];
  for (const [index, row] of rows.entries()) {
    const numbers = row
      .trim()
      .split(/\s+/)
      .map((word) => readQuantity(word, "px"));
    const [x, y] = numbers;
    if (numbers.length !== 2 || typeof x !== "number" || typeof y !== "number")
      return tr`Line ${index + 1} is no place. Type two numbers, like 600 400.`;
    if (x < 0 || y < 0 || x > wide || y > tall)
      return tr`Line ${index + 1} lies beside the page, which is ${wide} × ${tall}.`;
    places.push([x, y]);
  }
  return places.length > 1 ? places : tr("A line needs two places at least.");
}

/** The course through places, a sample every few px: straight, or by a centripetal Catmull-Rom spline (Yuksel et al. 2011), which makes no loops. */
export function courseThrough(places: Place[], smooth: boolean, closed: boolean): Place[] {
  const ring = closed ? [...places, places[0]!] : places;
  const at = (index: number): Place =>
    closed
      ? places[(index + places.length) % places.length]!
      : (places[index] ??
        mirrored(places[index < 0 ? 1 : places.length - 2]!, places[index < 0 ? 0 : places.length - 1]!));
  const course: Place[] = [ring[0]!];
  for (let k = 0; k + 1 < ring.length; k++) {
    const [a, b] = [ring[k]!, ring[k + 1]!];
    const steps = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / EVERY));
    for (let step = 1; step <= steps; step++) {
      const share = step / steps;
      course.push(
        smooth && places.length > 2
          ? between(at(k - 1), a, b, at(k + 2), share)
          : [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])],
      );
    }
  }
  return course;
}

const mirrored = (place: Place, about: Place): Place => [2 * about[0] - place[0], 2 * about[1] - place[1]];

/** A place between the second and the third of four, by Barry and Goldman's pyramid with knots at the square roots of the lengths. */
function between(p0: Place, p1: Place, p2: Place, p3: Place, share: number): Place {
  const knot = (from: Place, to: Place) => Math.max(1e-6, Math.sqrt(Math.hypot(to[0] - from[0], to[1] - from[1])));
  const t1 = knot(p0, p1);
  const t2 = t1 + knot(p1, p2);
  const t3 = t2 + knot(p2, p3);
  const t = t1 + share * (t2 - t1);
  const mix = (a: Place, b: Place, ta: number, tb: number): Place => {
    const s = (t - ta) / (tb - ta);
    return [a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1])];
  };
  const [a1, a2, a3] = [mix(p0, p1, 0, t1), mix(p1, p2, t1, t2), mix(p2, p3, t2, t3)];
  return mix(mix(a1, a2, 0, t2), mix(a2, a3, t1, t3), t1, t2);
}
