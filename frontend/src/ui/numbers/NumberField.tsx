import { Slider as RadixSlider } from "radix-ui";
import { useEffect, useId, useRef, useState } from "react";
import { tr } from "../../words/words";
import { useOnItsWay } from "../useOnItsWay";
import { readQuantity, roundStep, written } from "./quantity";
import { MM_PER_INCH, useReading } from "./reading";

export interface NumberProps {
  label: string;
  value: number;
  /** May answer with a promise: until it is kept, the field shows what was typed, and what is stored from then on. */
  onChange: (value: number) => unknown;
  /** Hears the values one passes while dragging or turning the wheel. */
  onSlide?: (value: number) => unknown;
  min?: number;
  max?: number;
  step?: number;
  digits?: number;
  unit?: string;
  /** The unit is the trade’s own and stays whatever lengths are read in, as the mm of a lens. */
  fixed?: boolean;
  /** A direction's letter and colour, shown inside the field. */
  letter?: "W" | "D" | "H";
  hideLabel?: boolean;
}

const LETTERS = { W: "text-width", D: "text-depth", H: "text-height" };
/** Px of a sideways drag for one step. */
const PX_A_STEP = 4;
/** Milliseconds a wheel rests before what it came to is kept, so that one turn is one edit. */
const WHEEL_RESTS = 250;

/** How many steps one is, with the keys that are held: with Shift ten, with Alt a tenth. */
function stride(held: { shiftKey: boolean; altKey: boolean }): number {
  return held.shiftKey ? 10 : held.altKey ? 0.1 : 1;
}

/** An editable number: typed (with sums and units), dragged by its name, turned by the wheel or stepped with the arrow keys. */
export function NumberField(props: NumberProps) {
  const reading = useReading();
  const inches = props.unit === "mm" && reading.inches && !props.fixed;
  const scale = inches ? MM_PER_INCH : 1;
  const unit = inches ? "in" : props.unit;
  const digits = (props.digits ?? 0) + (inches ? 2 : 0);
  const step = (inches ? roundStep((props.step ?? 1) / scale) : (props.step ?? 1)) * scale;
  const [value, set] = useOnItsWay(props.value, props.onChange);
  const [typed, setTyped] = useState<string | null>(null);
  const [passing, setPassing] = useState<number | null>(null);
  const [word, setWord] = useState("");
  const told = useId();
  const name = useRef<HTMLSpanElement>(null);
  const field = useRef<HTMLInputElement>(null);

  const show = (of: number) => written(of / scale, digits, reading.sign);
  const text = typed ?? show(passing ?? value);
  /** The nearest value the field can have; says so where it is another. */
  const held = (wanted: number): number => {
    const kept = Math.min(props.max ?? Infinity, Math.max(props.min ?? -Infinity, wanted));
    const end = kept < wanted ? "most" : "least";
    setWord(Math.abs(kept - wanted) > 1e-9 ? `${show(kept)}${unit ? ` ${unit}` : ""} is the ${end} here.` : "");
    return kept;
  };
  const commit = () => {
    if (typed === null) return;
    const read = readQuantity(typed, props.unit, scale);
    if (typeof read === "string") return setWord(typed.trim() ? read : "");
    setTyped(null);
    const next = held(read);
    if (Math.abs(next - value) > 1e-9) set(next);
  };
  const pass = (next: number) => {
    setTyped(null);
    setPassing(next);
    props.onSlide?.(next);
  };
  const land = (next: number) => {
    setPassing(null);
    if (Math.abs(next - value) > 1e-9) set(next);
  };
  /** A finer step than the field shows digits for would change a number that looks the same. */
  const finest = 10 ** -digits * scale;
  const stepped = (steps: number, from = passing ?? value) => {
    const by = Math.sign(steps) * Math.max(Math.abs(steps * step), finest);
    return held(from + by);
  };

  const latest = useRef({ stepped, pass, land, value, props });
  latest.current = { stepped, pass, land, value, props };
  useEffect(() => wheeled(field.current!, latest), []);
  useEffect(() => dragged(name.current!, latest), []);

  const letter = props.letter && <span className={`font-semibold ${LETTERS[props.letter]}`}>{props.letter}</span>;
  return (
    <div className="min-w-0">
      <label
        className={
          letter
            ? "flex items-center justify-between gap-1 border border-vein bg-raised px-1.5 py-1 focus-within:border-act"
            : "flex items-center justify-between gap-3 text-quiet"
        }
      >
        <span
          ref={name}
          title={tr("Drag sideways to change")}
          className={`touch-none ${props.hideLabel && !letter ? "sr-only" : "cursor-ew-resize"}`}
        >
          {letter ?? props.label}
        </span>
        <span className={`flex items-baseline gap-1 text-ink ${letter || props.hideLabel ? "min-w-0 flex-1" : ""}`}>
          <input
            ref={field}
            aria-label={props.label}
            aria-invalid={typed !== null && !!word}
            aria-describedby={word ? told : undefined}
            value={text}
            size={letter || props.hideLabel ? 1 : Math.max(3, text.length)}
            onChange={(event) => setTyped(event.target.value)}
            onFocus={(event) => event.target.select()}
            onBlur={commit}
            onKeyDown={(event) => {
              if (event.key === "Enter") {
                // what can be read is kept, and the keys belong to the canvas again; what cannot stays to be mended
                if (typed === null || typeof readQuantity(typed, props.unit, scale) === "number")
                  event.currentTarget.blur();
                else commit();
              } else if (event.key === "Escape") {
                if (typed === null) event.currentTarget.blur();
                setTyped(null);
                setWord("");
              } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
                const read = typed === null ? value : readQuantity(typed, props.unit, scale);
                setTyped(null);
                const from = typeof read === "number" ? read : value;
                const next = stepped((event.key === "ArrowUp" ? 1 : -1) * stride(event), from);
                if (Math.abs(next - value) > 1e-9) set(next);
              } else return;
              event.preventDefault();
              event.stopPropagation();
            }}
            className={`bg-transparent text-right font-medium outline-none ${letter || props.hideLabel ? "w-full min-w-0" : ""} ${letter ? "" : "border-quiet border-b border-dotted focus:border-act"}`}
          />
          {unit && !letter && <span className="text-quiet">{unit}</span>}
        </span>
      </label>
      {word && (
        <p id={told} role="status" className="text-[0.86rem] text-wrong">
          {word}
        </p>
      )}
    </div>
  );
}

interface Latest {
  current: {
    stepped: (steps: number, from?: number) => number;
    pass: (next: number) => void;
    land: (next: number) => void;
    value: number;
    props: NumberProps;
  };
}

/** The wheel over a field one is in turns its number; elsewhere it moves the list as ever. */
function wheeled(field: HTMLElement, latest: Latest): () => void {
  let rests: ReturnType<typeof setTimeout> | undefined;
  let at: number | null = null;
  const land = () => {
    clearTimeout(rests);
    if (at !== null) latest.current.land(at);
    at = null;
  };
  const turn = (event: WheelEvent) => {
    if (document.activeElement !== field || event.ctrlKey) return;
    event.preventDefault();
    at = latest.current.stepped(-Math.sign(event.deltaY || event.deltaX) * stride(event), at ?? latest.current.value);
    latest.current.pass(at);
    clearTimeout(rests);
    rests = setTimeout(land, WHEEL_RESTS);
  };
  field.addEventListener("wheel", turn, { passive: false });
  field.addEventListener("blur", land);
  return () => {
    land();
    field.removeEventListener("wheel", turn);
    field.removeEventListener("blur", land);
  };
}

/** A sideways drag on a number's name. Escape while one drags gives the number back. */
function dragged(name: HTMLElement, latest: Latest): () => void {
  let begun: { x: number; value: number; at: number; moved: boolean } | null = null;
  let wires = new AbortController();
  const end = () => {
    wires.abort();
    begun = null;
  };
  const down = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const { value } = latest.current;
    begun = { x: event.clientX, value, at: value, moved: false };
    wires = new AbortController();
    const { signal } = wires;
    window.addEventListener("pointermove", move, { signal });
    window.addEventListener("pointerup", up, { signal });
    window.addEventListener("pointercancel", back, { signal });
    window.addEventListener("keydown", (pressed) => pressed.key === "Escape" && back(pressed), {
      signal,
      capture: true,
    });
  };
  const move = (event: PointerEvent) => {
    if (!begun) return;
    const steps = Math.round((event.clientX - begun.x) / PX_A_STEP);
    if (!begun.moved && steps === 0) return;
    begun.moved = true;
    begun.at = steps === 0 ? begun.value : latest.current.stepped(steps * stride(event), begun.value);
    latest.current.pass(begun.at);
  };
  const up = () => {
    if (begun?.moved) latest.current.land(begun.at);
    const { moved } = begun ?? {};
    end();
    // a click on a name goes on to its field; a drag does not
    if (!moved) return;
    const kept = (event: Event) => event.preventDefault();
    window.addEventListener("click", kept, { capture: true });
    setTimeout(() => window.removeEventListener("click", kept, { capture: true }));
  };
  const back = (event: Event) => {
    if (!begun) return;
    event.stopPropagation();
    const { value } = begun;
    latest.current.pass(value);
    latest.current.land(value);
    end();
  };
  name.addEventListener("pointerdown", down);
  return () => {
    end();
    name.removeEventListener("pointerdown", down);
  };
}

/** A slider beside its number, as tools show their options. */
export function SliderField(props: NumberProps) {
  const [sliding, setSliding] = useState<number | null>(null);
  const shown = sliding ?? props.value;
  const slide = (value: number) => {
    setSliding(value);
    props.onSlide?.(value);
  };
  const keep = (value: number) => {
    setSliding(null);
    return props.onChange(value);
  };
  return (
    <div className="grid grid-cols-[minmax(2.5rem,4.2rem)_minmax(2rem,1fr)_minmax(2.6rem,auto)] items-center gap-1.5 py-0.5 text-quiet">
      <span>{props.label}</span>
      <RadixSlider.Root
        value={[shown]}
        min={props.min}
        max={props.max}
        step={props.step ?? 1}
        onValueChange={([value = shown]) => slide(value)}
        onValueCommit={([value = shown]) => keep(value)}
        className="relative -mx-[6px] flex h-[24px] touch-none items-center"
      >
        <RadixSlider.Track className="relative mx-[9px] h-0.5 grow bg-vein forced-colors:bg-[CanvasText]">
          <RadixSlider.Range className="absolute h-full bg-quiet forced-colors:bg-[Highlight]" />
        </RadixSlider.Track>
        <RadixSlider.Thumb aria-label={props.label} className="relative block h-[24px] w-[24px]">
          <span className="absolute inset-x-[9.5px] top-[5px] bottom-[5px] bg-ink forced-colors:bg-[ButtonText]" />
        </RadixSlider.Thumb>
      </RadixSlider.Root>
      <NumberField {...props} value={shown} onSlide={slide} onChange={keep} hideLabel />
    </div>
  );
}
