import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answer, api } from "../../api/client";
import { at, useForm } from "../../api/queries";
import type { Command } from "../../bench/commands";
import type { StageProps } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { SliderField } from "../../ui/controls";
import { lookFrom, type Side } from "../../view3d/orbit";
import { useAddressedOrbit } from "../../view3d/useAddressedOrbit";
import { extentOf, useSkins } from "../../view3d/useParts";
import { CurvatureCard, type Finding, SoundnessCard, StripesCard } from "./cards";
import { paint, type Quantity, useCurvature } from "./curvature";
import { SurfaceCanvas } from "./SurfaceCanvas";
import { surfaceEye, useSurface } from "./store";

/** Surface: is it good enough to look at? */
export default function SurfaceStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const state = useSurface();
  const { set, probe } = state;
  const parts = useSkins(project, row.id, data);
  const quantity: Quantity | null = probe === "mean" || probe === "gaussian" ? probe : null;
  const maps = useCurvature(project, row.id, parts, quantity !== null);

  useAddressedOrbit("Surface", surfaceEye, data, parts);

  // small rings and knobs bend far more than the body: the legend follows the largest part until it is set by hand
  const range = useMemo(() => {
    if (!quantity) return 1;
    const extents = parts.map((shown) => extentOf([shown]).extent);
    return state.ends[quantity] ?? maps[extents.indexOf(Math.max(...extents))]?.meta[quantity] ?? 1;
  }, [parts, maps, quantity, state.ends]);
  useMemo(() => {
    parts.forEach((shown, index) => {
      const map = maps[index];
      if (quantity && map && map[quantity].length * 3 === shown.mesh.positions.length)
        paint(shown, map[quantity], range);
    });
  }, [parts, maps, quantity, range]);

  const soundness = useQuery({
    queryKey: ["soundness", row.id, data?.standing.head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/soundness", at(project, row.id))),
    enabled: probe === "soundness" && !!data,
  });
  const findings = soundness.data?.parts.flatMap((part) => part.findings) ?? [];

  const fly = (finding: Finding) => {
    const { extent } = extentOf(parts);
    const near = lookFrom("three-quarter", finding.place as [number, number, number], extent * 0.3);
    set({ place: finding.place as [number, number, number] });
    surfaceEye.look(near);
  };
  const look = (side: Side) => {
    const { target, extent } = extentOf(parts);
    set({ place: null });
    surfaceEye.look(lookFrom(side, target, extent));
  };

  const stripeOptions = (
    <>
      <SliderField
        label="Count"
        value={state.count}
        min={2}
        max={60}
        onChange={(count) => set({ count })}
        onSlide={(count) => set({ count })}
      />
      <SliderField
        label="Around"
        value={state.around}
        min={-180}
        max={180}
        onChange={(around) => set({ around })}
        onSlide={(around) => set({ around })}
      />
      <SliderField
        label="Above"
        value={state.above}
        min={-90}
        max={90}
        onChange={(above) => set({ above })}
        onSlide={(above) => set({ above })}
      />
    </>
  );
  const commands: Command[] = [
    {
      id: "stripes",
      name: "Stripes",
      group: "Look for flaws",
      key: "z",
      active: probe === "stripes",
      options: stripeOptions,
      run: () => set({ probe: "stripes" }),
    },
    {
      id: "mean",
      name: "Mean curvature",
      group: "Look for flaws",
      key: "m",
      active: probe === "mean",
      run: () => set({ probe: "mean" }),
    },
    {
      id: "gaussian",
      name: "Gaussian curvature",
      group: "Look for flaws",
      key: "g",
      active: probe === "gaussian",
      run: () => set({ probe: "gaussian" }),
    },
    {
      id: "soundness",
      name: "Soundness",
      group: "Check",
      key: "c",
      active: probe === "soundness",
      run: () => set({ probe: "soundness" }),
    },
    { id: "look-3", name: "Three-quarter", group: "Look", key: "v", run: () => look("three-quarter") },
    { id: "look-front", name: "Front", group: "Look", key: "a", run: () => look("front") },
    { id: "look-side", name: "Side", group: "Look", key: "s", run: () => look("side") },
    { id: "look-top", name: "Top", group: "Look", key: "d", run: () => look("top") },
  ];
  const size = useQuery({
    queryKey: ["size", row.id, data?.standing.head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/size", at(project, row.id))),
    enabled: !!data,
  });

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={
        <SurfaceCanvas form={data} parts={parts} quantity={quantity} maps={maps} range={range} findings={findings} />
      }
      inspector={
        <>
          {probe === "stripes" && <StripesCard />}
          {quantity && (
            <CurvatureCard
              quantity={quantity}
              range={range}
              maps={maps}
              parts={parts}
              chosen={state.ends[quantity] !== null}
              onRange={(end) => set({ ends: { ...state.ends, [quantity]: end } })}
            />
          )}
          {probe === "soundness" && (
            <SoundnessCard answer={soundness.data?.parts ?? []} busy={soundness.isFetching} onFly={fly} />
          )}
        </>
      }
      foot={
        size.data && (
          <>
            <b className="font-medium text-ink">
              {size.data.width.toFixed(1)} × {size.data.depth.toFixed(1)} × {size.data.height.toFixed(1)} mm
            </b>
            <span>{size.data.parts} parts</span>
            <span>{size.data.faces} faces</span>
          </>
        )
      }
    />
  );
}
