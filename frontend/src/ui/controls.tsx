import { Collapsible, RadioGroup, Slider as RadixSlider } from "radix-ui";
import { type ReactNode, useState } from "react";
import { useOnItsWay } from "./useOnItsWay";

type Weight = "plain" | "act" | "quiet" | "wrong";

/** A worded button. */
export function Button(props: {
  children: ReactNode;
  onClick: () => void;
  weight?: Weight;
  disabled?: boolean;
  label?: string;
  pressed?: boolean;
}) {
  const looks: Record<Weight | "chosen", string> = {
    chosen: "font-semibold text-act",
    plain: "border border-vein bg-raised hover:border-quiet",
    act: "border border-act bg-act text-paper hover:opacity-90",
    quiet: "text-quiet hover:text-ink",
    wrong: "border border-vein bg-raised text-wrong hover:border-wrong",
  };
  return (
    <button
      type="button"
      aria-label={props.label}
      aria-pressed={props.pressed}
      disabled={props.disabled}
      onClick={props.onClick}
      className={`whitespace-nowrap px-2.5 py-1 text-left disabled:opacity-50 ${looks[props.pressed && props.weight === "quiet" ? "chosen" : (props.weight ?? "plain")]} ${props.pressed ? "border-act" : ""}`}
    >
      {props.children}
    </button>
  );
}

/** A foldable card of the inspector. */
export function Card(props: { title: string; aside?: ReactNode; children: ReactNode }) {
  const [open, setOpen] = useState(true);
  return (
    <section className="border-b border-vein px-4 py-3">
      <h3 className="flex items-baseline justify-between font-semibold">
        <button type="button" aria-expanded={open} onClick={() => setOpen(!open)} className="flex-1 text-left">
          {props.title}
        </button>
        <span className="font-normal text-[0.86rem] text-quiet">{props.aside}</span>
      </h3>
      {open && <div className="mt-2 space-y-1.5">{props.children}</div>}
    </section>
  );
}

/** What is opened when it is wanted; closed, nothing of it is drawn. */
export function Disclosure(props: { title: string; children: ReactNode }) {
  return (
    <Collapsible.Root className="text-quiet">
      <Collapsible.Trigger className="group flex min-h-[24px] w-full items-center gap-1.5 text-left hover:text-ink">
        <span aria-hidden="true" className="inline-block text-[0.8em] group-data-[state=open]:rotate-90">
          ▸
        </span>
        {props.title}
      </Collapsible.Trigger>
      <Collapsible.Content className="space-y-1.5 pt-1">{props.children}</Collapsible.Content>
    </Collapsible.Root>
  );
}

/** A line of the inspector: what it is, what it says. */
export function Row(props: { label: string; children: ReactNode }) {
  return (
    <div className="flex min-h-6 items-center justify-between gap-3 text-quiet">
      <span>{props.label}</span>
      <span className="text-right text-ink">{props.children}</span>
    </div>
  );
}

interface NumberProps {
  label: string;
  value: number;
  /** May answer with a promise: until it is kept, the field shows what was typed, and what is stored from then on. */
  onChange: (value: number) => unknown;
  min?: number;
  max?: number;
  step?: number;
  digits?: number;
  unit?: string;
  /** A direction's letter and colour, shown inside the field. */
  letter?: "W" | "D" | "H";
  hideLabel?: boolean;
}

const LETTERS = { W: "text-width", D: "text-depth", H: "text-height" };

/** An editable number: type and press Enter, or step with the arrow keys. */
export function NumberField(props: NumberProps) {
  const digits = props.digits ?? 0;
  const [value, set] = useOnItsWay(props.value, props.onChange);
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? value.toFixed(digits);
  const clamp = (next: number) => Math.min(props.max ?? Infinity, Math.max(props.min ?? -Infinity, next));
  const commit = () => {
    setTyped(null);
    const next = clamp(Number.parseFloat(text.replace(",", ".").replace("−", "-")));
    if (Number.isFinite(next) && Math.abs(next - value) > 1e-9) set(next);
  };
  const step = (sign: number, large: boolean) => {
    setTyped(null);
    const next = clamp(Number.parseFloat(text) + sign * (props.step ?? 1) * (large ? 10 : 1));
    if (Number.isFinite(next)) set(next);
  };
  return (
    <label
      className={
        props.letter
          ? "flex items-center justify-between gap-1 border border-vein bg-raised px-2 py-1 focus-within:border-act"
          : "flex items-center justify-between gap-3 text-quiet"
      }
    >
      {props.letter ? (
        <span className={`font-semibold ${LETTERS[props.letter]}`}>{props.letter}</span>
      ) : (
        <span className={props.hideLabel ? "sr-only" : ""}>{props.label}</span>
      )}
      <span className="flex items-baseline gap-1 text-ink">
        <input
          aria-label={props.label}
          inputMode="decimal"
          value={text}
          size={Math.max(3, text.length)}
          onChange={(event) => setTyped(event.target.value)}
          onFocus={(event) => event.target.select()}
          onBlur={() => typed !== null && commit()}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "ArrowUp" || event.key === "ArrowDown") {
              event.preventDefault();
              step(event.key === "ArrowUp" ? 1 : -1, event.shiftKey);
            }
          }}
          className={`min-h-[24px] bg-transparent text-right font-medium outline-none ${props.letter || props.hideLabel ? "w-full min-w-0" : ""} ${props.letter ? "" : "border-b border-dotted border-quiet focus:border-act"}`}
        />
        {props.unit && <span className="text-quiet">{props.unit}</span>}
      </span>
    </label>
  );
}

/** A slider beside its number, as tools show their options. */
export function SliderField(props: NumberProps & { onSlide?: (value: number) => void }) {
  const [sliding, setSliding] = useState<number | null>(null);
  const shown = sliding ?? props.value;
  return (
    <div className="grid grid-cols-[4rem_1fr_2.6rem] items-center gap-1.5 py-0.5 text-quiet">
      <span>{props.label}</span>
      <RadixSlider.Root
        value={[shown]}
        min={props.min}
        max={props.max}
        step={props.step ?? 1}
        onValueChange={([value = shown]) => {
          setSliding(value);
          props.onSlide?.(value);
        }}
        onValueCommit={([value = shown]) => {
          setSliding(null);
          props.onChange(value);
        }}
        className="relative flex h-[24px] touch-none items-center"
      >
        <RadixSlider.Track className="relative h-0.5 grow bg-vein">
          <RadixSlider.Range className="absolute h-full bg-quiet" />
        </RadixSlider.Track>
        <RadixSlider.Thumb
          aria-label={props.label}
          className="relative block h-[24px] w-2 outline-offset-2 before:absolute before:inset-y-0 before:-inset-x-2 before:content-['']"
        >
          <span className="absolute inset-x-[1px] top-[5px] bottom-[5px] bg-ink" />
        </RadixSlider.Thumb>
      </RadixSlider.Root>
      <NumberField {...props} value={shown} hideLabel />
    </div>
  );
}

/** A few words of which one is chosen. */
export function Choice<T extends string>(props: {
  label: string;
  options: readonly T[];
  value: T;
  onChange: (value: T) => unknown;
}) {
  const [value, set] = useOnItsWay(props.value, props.onChange);
  return (
    <RadioGroup.Root
      aria-label={props.label}
      value={value}
      onValueChange={set}
      className="flex flex-wrap gap-x-3 gap-y-1"
    >
      {props.options.map((option) => (
        <RadioGroup.Item
          key={option}
          value={option}
          className="min-h-[24px] min-w-[24px] border-transparent border-b-2 text-quiet hover:text-ink data-[state=checked]:border-act data-[state=checked]:font-semibold data-[state=checked]:text-act"
        >
          {option}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}

/** A colour well. */
export function ColourField(props: { label: string; value: string; onChange: (value: string) => unknown }) {
  const [value, set] = useOnItsWay(props.value, props.onChange);
  const [chosen, setChosen] = useState<string | null>(null);
  const shown = chosen ?? value;
  return (
    <label className="flex items-center justify-between gap-3 text-quiet">
      {props.label}
      <span className="flex items-center gap-2 text-ink">
        <span className="font-medium">{shown}</span>
        <input
          type="color"
          aria-label={props.label}
          value={shown}
          onChange={(event) => setChosen(event.target.value)}
          onBlur={() => {
            setChosen(null);
            if (shown !== value) set(shown);
          }}
          className="h-[24px] w-8 cursor-pointer border border-vein bg-transparent p-0"
        />
      </span>
    </label>
  );
}

/** A text that is edited in place; `live` reports every keystroke instead of the finished text. */
export function TextField(props: {
  label: string;
  value: string;
  onChange: (value: string) => unknown;
  hideLabel?: boolean;
  live?: boolean;
}) {
  const [value, set] = useOnItsWay(props.value, props.onChange);
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    setTyped(null);
    const next = typed?.trim();
    if (next && next !== value) set(next);
  };
  return (
    <label className="flex items-center justify-between gap-3 text-quiet">
      <span className={props.hideLabel ? "sr-only" : ""}>{props.label}</span>
      <input
        aria-label={props.label}
        value={props.live ? props.value : (typed ?? value)}
        onChange={(event) => (props.live ? props.onChange(event.target.value) : setTyped(event.target.value))}
        onBlur={() => !props.live && commit()}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="min-h-[24px] w-full min-w-0 flex-1 border-vein border-b bg-transparent font-medium text-ink outline-none focus:border-act"
      />
    </label>
  );
}
