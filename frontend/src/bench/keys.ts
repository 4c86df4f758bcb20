import { useEffect } from "react";
import { keyOf, run, useCommands } from "./commands";

/** The key of a keyboard event, written as commands write theirs. */
export function pressed(event: KeyboardEvent): string {
  const parts: string[] = [];
  if (event.ctrlKey || event.metaKey) parts.push("mod");
  const plain = event.key.length === 1 ? event.key.toLowerCase() : event.key.toLowerCase().replace("arrow", "");
  const letter = /^[a-z]$/.test(plain);
  if (event.shiftKey && (letter || plain.length > 1)) parts.push("shift");
  if (event.altKey) parts.push("alt");
  // "+" stands between the parts, and needs Shift on some keyboards only
  parts.push({ "+": "plus", "=": "plus", "-": "minus" }[plain] ?? plain);
  return parts.join("+");
}

/** Whether the event belongs to something being typed into. */
export function typing(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  return target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
}

/** Runs commands by their keys. Keys go to dialogs and fields first. */
export function useKeys(): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return; // whatever has the focus made use of it
      if (typing(event) && !(event.ctrlKey && event.key === "k")) return;
      if (document.querySelector("[role=dialog]")) return;
      const name = pressed(event);
      const { stage, ledger, bench } = useCommands.getState();
      const called = name === "mod+y" ? "mod+shift+z" : name;
      const found = [...stage, ...ledger, ...bench].find((command) => keyOf(command) === called);
      if (!found || found.byEvent) return;
      event.preventDefault();
      run(found);
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, []);
}
