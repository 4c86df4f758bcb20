import { language, tr } from "../words/words";

/** A moment as day and time, as the reader writes them. */
export function when(at: string): string {
  return new Date(at).toLocaleString(language() === "en" ? undefined : language(), {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
}

const SPANS: [unit: Intl.RelativeTimeFormatUnit, seconds: number][] = [
  ["minute", 60],
  ["hour", 3600],
  ["day", 86_400],
  ["month", 2_629_800],
  ["year", 31_557_600],
];

/** How long ago a moment was, in words. */
export function ago(at: string, now = Date.now()): string {
  const seconds = Math.max(0, (now - Date.parse(at)) / 1000);
  const [unit, length] = SPANS.findLast(([, span]) => seconds >= span) ?? SPANS[0]!;
  return new Intl.RelativeTimeFormat(language(), { numeric: "auto" }).format(-Math.floor(seconds / length), unit);
}

/** Bytes in the unit that suits them. */
export function bytes(count: number): string {
  return count < 1e6 ? tr`${Math.max(1, Math.round(count / 1e3))} kB` : tr`${(count / 1e6).toFixed(1)} MB`;
}
