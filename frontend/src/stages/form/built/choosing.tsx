import type { Shapes } from "../../../api/client";
import { Options } from "../../../ui/controls";
import { tr } from "../../../words/words";

/** Parts as a picker offers them. */
export const named = (parts: readonly Shapes["Part"][]): [string, string][] => parts.map(({ id, name }) => [id, name]);

/** Curves to choose from, and what to do where there is none. */
export function OtherCurves({ of }: { of: readonly Shapes["Part"][] }) {
  return <Options of={[["", of.length ? tr("choose a curve …") : tr("draw another curve first")], ...named(of)]} />;
}
