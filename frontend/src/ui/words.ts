import { tr } from "../words/words";

/** A word of ours with a capital. */
export function capitalised(word: string): string {
  return tr(word.slice(0, 1).toUpperCase() + word.slice(1));
}

/** The first line of a text, no longer than so many letters. */
export function firstLine(text: string, letters: number): string {
  return (text.split("\n", 1)[0] ?? "").slice(0, letters);
}
