import { useMemo } from "react";
import { useSettings } from "../../bench/store";
import { told, tr } from "../../words/words";
import { written } from "./quantity";

export const MM_PER_INCH = 25.4;
type Sign = "." | ",";

/** The decimal sign of the language this browser is set to. */
const here: Sign =
  new Intl.NumberFormat().formatToParts(1.5).find(({ type }) => type === "decimal")?.value === "," ? "," : ".";

/** Numbers as the one who reads them wants them: lengths in mm or inches, either decimal sign. */
export class Reading {
  constructor(
    readonly inches: boolean,
    readonly sign: Sign,
  ) {}

  /** A number with so many digits behind its sign. */
  number(value: number, digits = 0): string {
    return written(value, digits, this.sign);
  }

  /** The unit lengths are read in, for what is kept in mm; any other stays. */
  unit(kept: string): string {
    return this.inches ? kept.replace(/\bmm\b/, "in") : kept;
  }

  /** A share in hundredths, to a tenth. */
  percent(share: number): string {
    return `${this.number(share * 100, 1)} %`;
  }

  /** A length in mm, with its unit. */
  length(mm: number, digits = 0): string {
    return this.size([mm], digits);
  }

  /** A length in mm as a bare number of the unit that lengths are read in. */
  bare(mm: number, digits = 0): string {
    return this.inches ? this.number(mm / MM_PER_INCH, digits + 2) : this.number(mm, digits);
  }

  /** Lengths in mm with one unit behind them all, as sizes are told. */
  size(mm: readonly number[], digits = 0): string {
    return `${mm.map((one) => this.bare(one, digits)).join(" × ")} ${this.inches ? "in" : "mm"}`;
  }

  /** A volume in mm³. */
  volume(mm3: number): string {
    return this.inches ? tr`${this.number(mm3 / MM_PER_INCH ** 3, 2)} cu in` : tr`${this.number(mm3 / 1000, 1)} cm³`;
  }

  /** A sentence of the server, which tells lengths in mm. */
  sentence(english: string): string {
    const text = told(english);
    if (!this.inches && this.sign === ".") return text;
    const lengths = this.inches ? text.replaceAll(LENGTHS, (_all, before = "", last) => inInches(before, last)) : text;
    return this.sign === "." ? lengths : lengths.replaceAll(/(\d)\.(\d)/g, "$1,$2");
  }
}

const LENGTHS = /((?:-?\d+(?:\.\d+)? × )*)(-?\d+(?:\.\d+)?) mm\b/g;

function inInches(before: string, last: string): string {
  const inches = [...before.split(" × ").filter(Boolean), last].map((text) => {
    const digits = (text.split(".")[1]?.length ?? 0) + 2;
    return written(Number(text) / MM_PER_INCH, digits, ".");
  });
  return tr`${inches.join(" × ")} in`;
}

export function useReading(): Reading {
  const unit = useSettings((settings) => settings.unit);
  const sign = useSettings((settings) => settings.sign);
  return useMemo(
    () => new Reading(unit === "inch", { browser: here, point: "." as const, comma: "," as const }[sign]),
    [unit, sign],
  );
}
