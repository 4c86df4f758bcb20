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
  const known = new Map<string, string>();

  function whole(sentence: string): string | undefined {
    if (Object.hasOwn(catalogue, sentence)) return catalogue[sentence];
    for (const { reads, says } of patterns) {
      const found = reads.exec(sentence);
      if (found) return filled(says, found.slice(1).map(tell));
    }
  }

  /** Of several told in one: sentences after one another, or what an edit changed. */
  function parted(sentence: string): string | undefined {
    for (const between of [". ", ": ", ", ", "; "]) {
      const at = sentence.indexOf(between);
      if (at < 0) continue;
      const first = tell(sentence.slice(0, between === ". " ? at + 1 : at));
      const rest = tell(sentence.slice(at + between.length));
      const joint = between === ". " ? " " : between;
      if (first + joint + rest !== sentence) return first + joint + rest;
    }
  }

  function tell(sentence: string): string {
    if (!/\p{L}{2}/u.test(sentence)) return sentence;
    const before = known.get(sentence);
    if (before !== undefined) return before;
    const said = whole(sentence) ?? inOtherCase(sentence) ?? parted(sentence) ?? sentence;
    known.set(sentence, said);
    return said;
  }

  /** What begins a sentence here may stand within one elsewhere, or the other way about. */
  function inOtherCase(sentence: string): string | undefined {
    const first = sentence[0]!;
    const other = first === first.toUpperCase() ? first.toLowerCase() : first.toUpperCase();
    const said = other === first ? undefined : whole(other + sentence.slice(1));
    if (said) return (other === other.toLowerCase() ? said[0]!.toUpperCase() : said[0]!.toLowerCase()) + said.slice(1);
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
