/**
 * Sentences of the server in the reader's language. The server speaks English, and its ledger has kept it for as long as there is a
 * project; so a sentence is recognised by the pattern it was made from ("Hung {0}"), and what stood in its holes is told in turn.
 * Names that somebody gave are in no catalogue and stay as they are.
 */

/** A text with its numbered holes filled. */
export function filled(text: string, holes: readonly unknown[]): string {
  return holes.length ? text.replace(/\{(\d+)\}/g, (hole, k) => (k in holes ? String(holes[Number(k)]) : hole)) : text;
}

interface Pattern {
  reads: RegExp;
  says: string;
}

/** Says again in another language what a catalogue's patterns recognise; anything else comes back as it is. */
export function retelling(catalogue: Readonly<Record<string, string>>): (sentence: string) => string {
  const patterns = Object.entries(catalogue)
    .filter(([english]) => /\{\d/.test(english) && /\p{L}{2}/u.test(english))
    // the one that says the most by itself is meant
    .sort(([a], [b]) => weight(b) - weight(a))
    .map(([english, says]): Pattern => ({ reads: reader(english), says }));

  function byPattern(sentence: string): string | undefined {
    for (const { reads, says } of patterns) {
      const found = reads.exec(sentence);
      if (found) return filled(says, found.slice(1).map(tell));
    }
  }

  /** Of several told in one, sentences after one another or what an edit changed: each of them, where all are known. */
  function parted(sentence: string): string | undefined {
    for (const between of [". ", ": ", ", ", "; "]) {
      const at = sentence.indexOf(between);
      if (at < 0) continue;
      const joint = between === ". " ? " " : between;
      const first = known(sentence.slice(0, at + between.length - joint.length));
      const rest = sentence.slice(at + between.length);
      // what a colon leads to may be a name
      const last = known(rest) ?? (between === ": " ? rest : undefined);
      if (first !== undefined && last !== undefined) return first + joint + last;
    }
  }

  /** What begins a sentence here may stand within one elsewhere, or the other way about. */
  function inOtherCase(sentence: string): string | undefined {
    const first = sentence[0]!;
    const other = first === first.toUpperCase() ? first.toLowerCase() : first.toUpperCase();
    const swapped = other + sentence.slice(1);
    const said = other === first ? undefined : (exact(swapped) ?? byPattern(swapped));
    if (said) return (first === first.toUpperCase() ? said[0]!.toUpperCase() : said[0]!.toLowerCase()) + said.slice(1);
  }

  function exact(sentence: string): string | undefined {
    return Object.hasOwn(catalogue, sentence) ? catalogue[sentence] : undefined;
  }

  const before = new Map<string, string | undefined>();
  function known(sentence: string): string | undefined {
    if (!/\p{L}{2}/u.test(sentence)) return undefined;
    if (!before.has(sentence))
      before.set(sentence, exact(sentence) ?? parted(sentence) ?? byPattern(sentence) ?? inOtherCase(sentence));
    return before.get(sentence);
  }

  function tell(sentence: string): string {
    return known(sentence) ?? sentence;
  }

  return tell;
}

function weight(english: string): number {
  return english.replaceAll(/\{\d+\}/g, "").length;
}

function reader(english: string): RegExp {
  const pieces = english.split(/\{\d+\}/).map((piece) => piece.replaceAll(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return new RegExp(`^${pieces.join("(.*?)")}$`, "su");
}
