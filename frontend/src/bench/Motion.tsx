/** A small moving drawing of what a tool does. */
export function Motion(_props: { of: string }) {
  return null;
}
