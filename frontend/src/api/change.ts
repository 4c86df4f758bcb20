/** What an edit changed of what was told of a document; see the server's `documents/difference.py`. */
export type Change =
  | { is: unknown }
  | { fields: Record<string, Change> }
  | { keys: Record<string, unknown>; gone: string[] }
  | { at: number; drop: number; put: unknown[] }
  | { at: number; change: Change };

/** A value with a change carried out on it; what did not change stays the same object. */
export function changed<T>(value: T, change: Change): T {
  if ("is" in change) return change.is as T;
  if ("fields" in change) {
    const next = { ...(value as Record<string, unknown>) };
    for (const [name, inner] of Object.entries(change.fields)) next[name] = changed(next[name], inner);
    return next as T;
  }
  if ("keys" in change) {
    const next = { ...(value as Record<string, unknown>), ...change.keys };
    for (const key of change.gone) delete next[key];
    return next as T;
  }
  const list = [...(value as unknown[])];
  if ("change" in change) list[change.at] = changed(list[change.at], change.change);
  else list.splice(change.at, change.drop, ...change.put);
  return list as T;
}

/** The fields of a thing that differ from what they were, by name or by a path into a list of numbers ("size.0"). */
export function changedFields(before: object, after: object): Record<string, unknown> {
  const old = before as Record<string, unknown>;
  const found: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(after)) {
    const was = old[name];
    if (JSON.stringify(was) === JSON.stringify(value)) continue;
    const both = Array.isArray(value) && Array.isArray(was) && was.length === value.length;
    if (both && value.every((item) => typeof item === "number"))
      value.forEach((item, at) => {
        if (item !== was[at]) found[`${name}.${at}`] = item;
      });
    else found[name] = value;
  }
  return found;
}
