/**
 * Gathers every word of the interface, and every sentence the server says to it, into src/words/en.json, which translations are
 * copies of.
 * With --check it only says what is missing there, and which words do not go through `tr` at all.
 */
import { execFileSync } from "node:child_process";
import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join, relative } from "node:path";
import { parseSync } from "vite";

const SOURCE = join(import.meta.dirname, "..", "src");
const CATALOGUE = join(SOURCE, "words", "en.json");

function filesIn(folder) {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? filesIn(path) : /\.tsx?$/.test(name) ? [path] : [];
  });
}

const found = new Set();
const bare = [];

/** Attributes whose words are shown or told. */
const SHOWN = new Set(["label", "title", "placeholder", "aria-label", "alt", "says", "word"]);

function visit(node, file) {
  if (!node || typeof node.type !== "string") return;
  if (node.type === "CallExpression" && node.callee.name === "tr") {
    const [words] = node.arguments;
    if (typeof words.value === "string") found.add(words.value);
  }
  if (node.type === "TaggedTemplateExpression" && node.tag.name === "tr")
    found.add(node.quasi.quasis.map(({ value }) => value.cooked).reduce((text, piece, k) => `${text}{${k - 1}}${piece}`));
  // options of choices are told by their own words
  if (node.type === "JSXAttribute" && node.name.name === "options") gather(node.value);
  if (node.type === "JSXText" && /[A-Za-z]{2}/.test(node.value)) bare.push([file, node.value.trim()]);
  if (node.type === "JSXAttribute" && SHOWN.has(node.name.name) && node.value?.type === "Literal")
    if (/[A-Za-z]{2}/.test(node.value.value)) bare.push([file, node.value.value]);
  for (const value of Object.values(node)) {
    if (Array.isArray(value)) for (const child of value) visit(child, file);
    else if (value && typeof value.type === "string") visit(value, file);
  }
}

function gather(node) {
  if (!node || typeof node !== "object") return;
  if (node.type === "Literal" && typeof node.value === "string" && /[a-z]{2}/.test(node.value)) found.add(node.value);
  for (const value of Object.values(node)) {
    if (Array.isArray(value)) for (const child of value) gather(child);
    else if (value && typeof value.type === "string") gather(value);
  }
}

for (const path of filesIn(SOURCE)) {
  if (/api\/schema\.ts$/.test(path)) continue;
  visit(parseSync(path, readFileSync(path, "utf8")).program, relative(SOURCE, path));
}
// what is shown by its own name: stages, groups of tools, kinds
const EXTRA = ["groups", "choices"];
for (const name of EXTRA)
  for (const word of JSON.parse(readFileSync(join(import.meta.dirname, "words-by-name.json"), "utf8"))[name]) found.add(word);
const HOME = join(import.meta.dirname, "..", "..");
const gathered = execFileSync(join(HOME, ".venv/bin/python"), [join(HOME, "tools/server-words")], { encoding: "utf8" });
for (const sentence of JSON.parse(gathered)) found.add(sentence);
const words = Object.fromEntries([...found].sort().map((word) => [word, word]));
if (process.argv.includes("--check")) {
  for (const [file, word] of bare) console.error(`${file}: “${word}” does not go through tr.`);
  const stale = JSON.stringify(JSON.parse(readFileSync(CATALOGUE, "utf8"))) !== JSON.stringify(words);
  if (stale) console.error("src/words/en.json is not what the code says. Run: npm run words");
  process.exit(bare.length || stale ? 1 : 0);
}
writeFileSync(CATALOGUE, `${JSON.stringify(words, null, 2)}\n`);
console.log(`${found.size} words and sentences in src/words/en.json`);
