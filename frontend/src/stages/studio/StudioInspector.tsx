import { useEffect, useRef } from "react";
import { CameraCard } from "./camera/CameraCard";
import type { StudioProps } from "./context";
import { ColourwaysCard, FinishCard } from "./finish/FinishCard";
import { MarkCard } from "./finish/MarkCard";
import { LampCard } from "./light/LampCard";
import { LightCard } from "./light/LightCard";
import { ReadySets, SetCard } from "./scenery/SetCard";
import { SurroundCard } from "./scenery/SurroundCard";
import { UnitsCard } from "./scenery/UnitsCard";
import { ShotsCard } from "./shots/ShotsCard";
import { TakesCard } from "./shots/TakesCard";
import { type StudioTool, useStudioStage } from "./store";

const OF: Record<StudioTool, ((props: StudioProps) => React.ReactNode)[]> = {
  lamp: [LightCard, LampCard],
  highlight: [LightCard, LampCard],
  camera: [CameraCard],
  focus: [CameraCard],
  set: [SetCard, ReadySets],
  horizon: [SetCard],
  foot: [SetCard],
  units: [UnitsCard],
  surround: [SurroundCard],
  finish: [FinishCard, ColourwaysCard],
  wear: [FinishCard, ColourwaysCard],
  faces: [FinishCard, ColourwaysCard],
  mark: [MarkCard],
};

/** What belongs to the tool that is worked with, then shots and takes. With other cards it begins at its top again: they are what was asked for. */
export function StudioInspector(props: StudioProps) {
  const cards = OF[useStudioStage((state) => state.tool)];
  const top = useRef<HTMLSpanElement>(null);
  const shown = useRef(cards[0]);
  useEffect(() => {
    if (shown.current === cards[0]) return;
    shown.current = cards[0];
    top.current?.closest("aside")?.scrollTo?.(0, 0);
  }, [cards]);
  return (
    <>
      <span ref={top} />
      {cards.map((Part) => (
        <Part key={Part.name} {...props} />
      ))}
      <ShotsCard {...props} />
      <TakesCard {...props} />
    </>
  );
}
