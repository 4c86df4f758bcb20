import { filled, retelling } from "./told";

/**
 * Every word of the interface goes through here. English stands in the code, where it is read with what it says; `en.json` beside
 * this file holds all of it in one place (`npm run words` writes it), and a copy of that file with other values is a translation.
 * What the server says is in that file too: it speaks English, and `told.ts` says it again.
 */
type Catalogue = Readonly<Record<string, string>>;

const LANGUAGES = import.meta.glob<{ default: Catalogue }>("./*.json");
const KEPT = "hollow-marble-language";

let catalogue: Catalogue = {};
let retell: (sentence: string) => string = (sentence) => sentence;

/** Languages there is a file for. */
export const languages = Object.keys(LANGUAGES)
  .map((path) => path.slice(2, -5))
  .sort();

/** The language words are in. */
export function language(): string {
  const kept = localStorage.getItem(KEPT);
  return kept && languages.includes(kept) ? kept : "en";
}

/** Takes up the language that was chosen; before it is, nothing that speaks may be loaded. */
export async function learn(): Promise<void> {
  const name = language();
  document.documentElement.lang = name;
  // what English is in is the code
  if (name !== "en") learnFrom((await LANGUAGES[`./${name}.json`]!()).default);
}

/** Takes words from a catalogue: English, its holes numbered, to what is said for it. */
export function learnFrom(words: Catalogue): void {
  catalogue = words;
  retell = retelling(words);
}

/** What the server said, in the reader's language. */
export function told(sentence: string): string {
  return retell(sentence);
}

/** Chooses a language. The page is loaded anew, since words are made once. */
export function speak(name: string): void {
  localStorage.setItem(KEPT, name);
  location.reload();
}

/** Words in the reader's language: tr("Open"), tr`Open ${name}`. */
export function tr(words: string | TemplateStringsArray, ...holes: unknown[]): string {
  const key = typeof words === "string" ? words : words.reduce((text, piece, k) => `${text}{${k - 1}}${piece}`);
  return filled(catalogue[key] ?? key, holes);
}
