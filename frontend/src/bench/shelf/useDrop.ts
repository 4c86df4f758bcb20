import { useEffect, useRef, useState } from "react";

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/** Files dropped anywhere in the window; answers with whether some are held over it. */
export function useDrop(onFiles: (files: File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(onFiles);
  latest.current = onFiles;
  useEffect(() => {
    const wires = new AbortController();
    const { signal } = wires;
    let inside = 0; // enter and leave are told of every element on the way
    const enter = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      inside += 1;
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      inside -= 1;
      if (inside <= 0) setOver(false);
    };
    const above = (event: DragEvent) => {
      if (holdsFiles(event)) event.preventDefault();
    };
    const drop = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      inside = 0;
      setOver(false);
      const files = [...event.dataTransfer!.files];
      if (files.length) latest.current(files);
    };
    window.addEventListener("dragenter", enter, { signal });
    window.addEventListener("dragleave", leave, { signal });
    window.addEventListener("dragover", above, { signal });
    window.addEventListener("drop", drop, { signal });
    return () => wires.abort();
  }, []);
  return over;
}
