import { useEffect, useMemo } from "react";
import { useForm, useFormSize, useSoundness } from "../../api/queries";
import type { Command } from "../../bench/commands";
import { type StageProps, useSettings } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { FormSize } from "../../ui/FormSize";
import { SliderField } from "../../ui/numbers/NumberField";
import { lookCommands } from "../../view3d/looks";
import { lookFrom } from "../../view3d/orbit";
import { useAddressedOrbit } from "../../view3d/useAddressedOrbit";
import { extentOf, useSkins } from "../../view3d/useParts";
import { tr } from "../../words/words";
import { CurvatureCard, type Finding, SoundnessCard, StripesCard } from "./cards";
import { paint, quantityOf, useCurvature } from "./curvature";
import { SurfaceCanvas } from "./SurfaceCanvas";
import { surfaceEye, useSurface } from "./store";

const PROBES = [
  ["stripes", tr("Stripes"), "Flaws", "z"],
  ["largest", tr("Largest curvature"), "Flaws", "l"],
  ["mean", tr("Mean curvature"), "Flaws", "m"],
  ["gaussian", tr("Gaussian curvature"), "Flaws", "g"],
  ["soundness", tr("Soundness"), "Check", "c"],
] as const;

const DOES = {
  stripes: tr("Stripes of light run over the skin; where they kink, the surface does."),
  largest: tr("Colours tell how small the radius is where the skin bends most, and a line along which way."),
  mean: tr("Colours tell where the skin bulges and where it is hollow."),
  gaussian: tr("Colours tell domes from saddles."),
  soundness: tr("Look for holes, crossings and slivers."),
};

/** Surface: is it good enough to look at? */
export default function SurfaceStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const state = useSurface();
  const { set, probe } = state;
  const parts = useSkins(project, row.id, data);
  const quantity = quantityOf(probe);
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

  const soundness = useSoundness(project, row.id, data?.standing.head, probe === "soundness");
  const findings = soundness.data?.parts.flatMap((part) => part.findings) ?? [];

  const fly = (finding: Finding) => {
    const { extent } = extentOf(parts);
    const near = lookFrom("three-quarter", finding.place as [number, number, number], extent * 0.3);
    set({ place: finding.place as [number, number, number] });
    surfaceEye.look(near);
  };

  const stripeOptions = (
    <>
      <SliderField
        label={tr("Count")}
        value={state.count}
        min={2}
        max={60}
        onChange={(count) => set({ count })}
        onSlide={(count) => set({ count })}
      />
      <SliderField
        label={tr("Around")}
        value={state.around}
        min={-180}
        max={180}
        onChange={(around) => set({ around })}
        onSlide={(around) => set({ around })}
      />
      <SliderField
        label={tr("Above")}
        value={state.above}
        min={-90}
        max={90}
        onChange={(above) => set({ above })}
        onSlide={(above) => set({ above })}
      />
    </>
  );
  const commands: Command[] = [
    ...PROBES.map(([id, name, group, key]) => ({
      id,
      name,
      group,
      key,
      active: probe === id,
      options: id === "stripes" ? stripeOptions : undefined,
      likely: id === "stripes" ? 9 : 7,
      does: DOES[id],
      cannot: !data || data.body.parts?.length ? undefined : tr("There is no form yet. Begin one in Form."),
      run: () => set({ probe: id }),
    })),
    ...lookCommands(
      surfaceEye,
      () => parts,
      () => set({ place: null }),
    ),
  ];
  const change = useSettings((settings) => settings.change);
  const looking = parts.length > 0;
  useEffect(() => {
    if (looking) change({ looked: true });
  }, [looking, change]);
  const size = useFormSize(project, row.id, data?.standing.head);

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={
        <SurfaceCanvas
          project={project}
          form={data}
          parts={parts}
          quantity={quantity}
          maps={maps}
          range={range}
          findings={findings}
        />
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
      foot={<FormSize size={size} />}
    />
  );
}
