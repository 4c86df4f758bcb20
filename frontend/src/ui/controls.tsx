import { Collapsible, RadioGroup, Switch as RadixSwitch } from "radix-ui";
import { type ReactNode, useRef, useState } from "react";
import { tr } from "../words/words";
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
    act: "border border-act bg-act text-paper hover:brightness-95",
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
        <button type="button" aria-expanded={open} onClick={() => setOpen(!open)} className="-my-1 flex-1 text-left">
          {props.title}
        </button>
        <span className="font-normal text-[0.86rem] text-quiet">{props.aside}</span>
      </h3>
      {open && <div className="mt-2 space-y-1.5">{props.children}</div>}
    </section>
  );
}

/** What is opened when it is wanted; closed, nothing of it is drawn. */
export function Disclosure(props: { title: string; children: ReactNode; open?: boolean }) {
  return (
    <Collapsible.Root className="text-quiet" defaultOpen={props.open}>
      <Collapsible.Trigger className="group flex w-full items-center gap-1.5 text-left hover:text-ink">
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

/** On or off; the whole line can be touched. */
export function Switch(props: {
  label: string;
  on: boolean;
  onChange: (on: boolean) => unknown;
  disabled?: boolean;
  /** What is shown instead of the label, where the line is read with others. */
  word?: string;
}) {
  const [on, set] = useOnItsWay(props.on, props.onChange);
  return (
    <div className="flex min-h-6 items-center justify-between gap-3 text-quiet">
      <span aria-hidden="true">{props.word ?? props.label}</span>
      <RadixSwitch.Root
        aria-label={props.label}
        checked={on}
        disabled={props.disabled}
        onCheckedChange={set}
        className="relative h-[24px] w-[36px] disabled:opacity-50 before:absolute before:inset-x-0 before:inset-y-[3px] before:border before:border-quiet before:bg-raised before:content-[''] data-[state=checked]:before:border-act data-[state=checked]:before:bg-act"
      >
        <RadixSwitch.Thumb className="absolute top-[6px] left-[3px] block h-[12px] w-[12px] bg-quiet data-[state=checked]:left-[21px] data-[state=checked]:bg-paper forced-colors:bg-[ButtonText] forced-colors:data-[state=checked]:bg-[Highlight]" />
      </RadixSwitch.Root>
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
  const chosen = useRef(value);
  chosen.current = value;
  const choose = (option: T) => {
    if (option === chosen.current) return;
    chosen.current = option;
    set(option);
  };
  return (
    <RadioGroup.Root
      aria-label={props.label}
      value={value}
      onValueChange={choose}
      className="flex flex-wrap gap-x-3 gap-y-1"
    >
      {props.options.map((option) => (
        <RadioGroup.Item
          key={option}
          value={option}
          onFocus={(event) => {
            // arrow keys choose what they come to, also where the key is up again before the focus has moved
            const from = event.relatedTarget?.closest("[role=radiogroup]");
            if (from && from === event.currentTarget.closest("[role=radiogroup]")) choose(option);
          }}
          className="border-transparent border-b-2 text-quiet hover:text-ink data-[state=checked]:border-act data-[state=checked]:font-semibold data-[state=checked]:text-act"
        >
          {tr(option)}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}

/** One of a list that is too long to stand open. */
export function Picker(props: {
  label: string;
  value: string;
  onChange: (value: string) => unknown;
  children: ReactNode;
}) {
  return (
    <label className="flex min-h-6 items-center justify-between gap-3 text-quiet">
      {props.label}
      <select
        value={props.value}
        onChange={(event) => props.onChange(event.target.value)}
        className="min-w-0 max-w-[60%] border-vein border-b bg-paper py-0.5 text-ink"
      >
        {props.children}
      </select>
    </label>
  );
}

/** What a picker offers: values and the words for them. */
export function Options({ of }: { of: readonly (readonly [string, string])[] }) {
  return of.map(([value, word]) => (
    <option key={value} value={value}>
      {word}
    </option>
  ));
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
  /** One is in it from the beginning. */
  focused?: boolean;
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
        // biome-ignore lint/a11y/noAutofocus: it opens because one asked to type into it
        autoFocus={props.focused}
        value={props.live ? props.value : (typed ?? value)}
        onChange={(event) => (props.live ? props.onChange(event.target.value) : setTyped(event.target.value))}
        onBlur={() => !props.live && commit()}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="w-full min-w-0 flex-1 border-vein border-b bg-transparent font-medium text-ink outline-none focus:border-act"
      />
    </label>
  );
}
