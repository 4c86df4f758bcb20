import { useRef } from "react";

type Touch = (at: [number, number], lifted: boolean) => void;

/** Tells where the picture is touched, px of it, while the pen moves and when it is lifted; null where a touch does nothing. */
export function useTouch(onTouch: Touch | null, size: [number, number]) {
  const down = useRef(false);
  if (!onTouch) return null;
  const at = (event: React.PointerEvent): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [((event.clientX - box.left) / box.width) * size[0], ((event.clientY - box.top) / box.height) * size[1]];
  };
  return {
    onPointerDown: (event: React.PointerEvent<HTMLDivElement>) => {
      if (event.button !== 0) return;
      down.current = true;
      event.currentTarget.setPointerCapture(event.pointerId);
      onTouch(at(event), false);
    },
    onPointerMove: (event: React.PointerEvent<HTMLDivElement>) => {
      if (down.current) onTouch(at(event), false);
    },
    onPointerUp: (event: React.PointerEvent<HTMLDivElement>) => {
      if (!down.current) return;
      down.current = false;
      onTouch(at(event), true);
    },
  };
}
