import { useSyncExternalStore } from "react";
import { useSettings } from "../bench/store";

/** Px of a rem at the interface's usual size (app.css). */
const REM = 13;

function listen(changed: () => void): () => void {
  window.addEventListener("resize", changed);
  return () => window.removeEventListener("resize", changed);
}

/** Whether the window is narrower than so many rem of the interface as it is scaled. */
export function useNarrower(rem: number): boolean {
  const scale = useSettings((settings) => settings.size / 100);
  const width = useSyncExternalStore(listen, () => window.innerWidth);
  return width < rem * REM * scale;
}
