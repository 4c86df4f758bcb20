import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { changedFields } from "../../api/change";
import { answer, api, type Shapes } from "../../api/client";
import { at, newId, useEdit, useForm, useStatus, useStudio, useTakes } from "../../api/queries";
import { useAddressedView } from "../../bench/address";
import type { Command } from "../../bench/commands";
import { duration } from "../../bench/Header";
import { type StageProps, useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { Button } from "../../ui/controls";
import { Picture, pictureOf } from "../../ui/Picture";
import { useSkins } from "../../view3d/useParts";
import { CameraOptions, LampOptions, SweepOptions } from "./options";
import { StudioInspector } from "./StudioInspector";
import { StudioPreview } from "./StudioPreview";
import { type Setting, useStudioStage } from "./store";

type Quality = "draft" | "review" | "final";

/** Studio: photograph it. */
export default function StudioStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "studio")!;
  const formRow = documents.find((document) => document.kind === "form")!;
  const { data } = useStudio(project, row.id);
  const { data: form } = useForm(project, formRow.id);
  const { data: takes } = useTakes(project);
  const { data: status } = useStatus();
  const edit = useEdit(project, row.id);
  const { notify, go, shot: chosenShot, chooseShot } = useBench();
  const state = useStudioStage();
  const { set } = state;
  const parts = useSkins(project, formRow.id, form);
  const setting = (state.draft ?? data?.body.setting) as Setting | undefined;
  const shots = data?.body.shots ?? [];
  const shot = shots.find((candidate) => candidate.id === chosenShot) ?? shots.at(-1);
  useEffect(() => {
    if (shot && shot.id !== chosenShot) chooseShot(shot.id); // the address says which shot it is
  }, [shot, chosenShot, chooseShot]);
  useAddressedView("Studio", shot?.id ?? null, shot ? (state.take ?? "") : null, (take) => set({ take: take || null }));
  const take = takes?.find((candidate) => candidate.id === state.take);

  const staging = useQuery({
    queryKey: ["staging", formRow.id, form?.standing.head, JSON.stringify(setting)],
    queryFn: () =>
      answer(
        api.POST("/api/projects/{project}/staging", {
          params: { path: { project } },
          body: { form: formRow.id, setting: setting! },
        }),
      ),
    enabled: !!setting && !!form,
    placeholderData: (previous) => previous,
    gcTime: 10_000,
  });

  const commit = async (change: Parameters<typeof edit>[0]) => {
    const kept = await edit(change);
    set({ draft: null });
    return kept;
  };
  const draft = (fields: Partial<Setting>) => setting && set({ draft: { ...setting, ...fields }, take: null });
  const draftLamp = (lamp: Shapes["Lamp"]) =>
    setting && draft({ lamps: setting.lamps!.map((other) => (other.id === lamp.id ? lamp : other)) });

  const keepShot = async (): Promise<string | null> => {
    const id = newId().slice(0, 8);
    const names = new Set(shots.map((other) => other.name));
    let number = shots.length + 1;
    while (names.has(`Shot ${number}`)) number++;
    const kept = await commit({
      kind: "keep_shot",
      id,
      name: `Shot ${number}`,
      width: state.size[0],
      height: state.size[1],
      form: formRow.id,
      form_edit: form?.standing.head ?? 0,
    });
    if (!kept) return null;
    chooseShot(id);
    return id;
  };
  const takePicture = async (quality: Quality) => {
    const id = shot?.id ?? (await keepShot());
    if (!id) return;
    try {
      const made = await answer(
        api.POST("/api/projects/{project}/studios/{document}/takes", {
          ...at(project, row.id),
          body: { shot: id, quality },
        }),
      );
      set({ take: made.id });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const stored = data?.body.setting as Setting | undefined;
  const doneLamp = (next: Shapes["Lamp"]) => {
    const was = stored?.lamps?.find((other) => other.id === next.id) ?? {};
    return commit({ amend: { kind: "lamp", id: next.id, fields: changedFields(was, next) } });
  };
  const lamp = setting?.lamps?.find((candidate) => candidate.id === state.lamp) ?? setting?.lamps?.[0];
  const options = setting && {
    lamp: lamp && <LampOptions lamp={lamp} onDraft={draftLamp} onDone={doneLamp} />,
    camera: (
      <CameraOptions
        camera={setting.camera!}
        onDraft={(camera) => draft({ camera })}
        onDone={(camera) => commit({ amend: { kind: "camera", fields: changedFields(stored?.camera ?? {}, camera) } })}
      />
    ),
    sweep: (
      <SweepOptions
        sweep={setting.sweep!}
        onDone={(sweep) => commit({ amend: { kind: "sweep", fields: changedFields(stored?.sweep ?? {}, sweep) } })}
      />
    ),
  };
  const tool = (name: typeof state.tool) => ({ active: state.tool === name, run: () => set({ tool: name }) });
  const commands: Command[] = [
    { id: "lamp", name: "Lamp", group: "Light", key: "a", options: options?.lamp, ...tool("lamp") },
    {
      id: "alone",
      name: "This lamp alone",
      group: "Light",
      key: "o",
      note: state.alone ? "on" : undefined,
      run: () => set({ alone: state.alone ? null : (lamp?.id ?? null), take: null }),
    },
    { id: "three-point", name: "Start: three-point", group: "Light", run: () => commit({ kind: "start_three_point" }) },
    { id: "camera", name: "Camera", group: "Frame", key: "c", options: options?.camera, ...tool("camera") },
    {
      id: "guides",
      name: "Thirds",
      group: "Frame",
      key: "g",
      note: state.guides ? "on" : undefined,
      run: () => set({ guides: !state.guides }),
    },
    { id: "sweep", name: "Sweep", group: "Set", key: "w", options: options?.sweep, ...tool("sweep") },
    { id: "keep", name: "Keep as a new shot", group: "Shot", key: "k", run: () => void keepShot() },
    { id: "draft", name: "Draft take", group: "Take", key: "d", run: () => takePicture("draft") },
    { id: "review", name: "Review take", group: "Take", key: "r", run: () => takePicture("review") },
    { id: "final", name: "Final take", group: "Take", key: "f", run: () => takePicture("final") },
    { id: "preview", name: "Preview", group: "Take", key: "escape", run: () => set({ take: null }) },
  ];

  const [width, height] = take
    ? [take.width, take.height]
    : shot && !state.draft
      ? [shot.width ?? 960, shot.height ?? 600]
      : state.size;
  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={
        <PictureFrame
          aspect={width / height}
          caption={
            take
              ? takeCaption(take)
              : shot
                ? `${shot.name}, ${setting?.camera?.focal?.toFixed(0)} mm, ${width} × ${height}, preview`
                : "Preview"
          }
          guides={state.guides}
        >
          {take ? (
            <TakePicture project={project} take={take} />
          ) : parts.length && staging.data && setting ? (
            <StudioPreview
              staging={staging.data}
              setting={setting}
              parts={parts}
              alone={state.alone}
              aspect={width / height}
              moving={state.draft !== null}
            />
          ) : form && !form.body.parts?.length ? (
            <div className="grid h-full place-content-center bg-paper text-center">
              <p className="font-semibold font-serif text-[1.6rem]">An empty set</p>
              <p className="mb-4 text-quiet">The sweep and three lamps are up; the product is missing.</p>
              <span>
                <Button onClick={() => go("Form")}>Begin a form</Button>
              </span>
            </div>
          ) : null}
        </PictureFrame>
      }
      inspector={
        data &&
        setting && (
          <StudioInspector
            project={project}
            studio={row.id}
            setting={setting}
            shots={shots}
            shot={shot}
            takes={takes ?? []}
            parts={form?.body.parts ?? []}
            formHead={form?.standing.head ?? 0}
            facts={staging.data?.facts}
            stored={data.body.setting as Setting}
            edit={commit}
            onDraft={draftLamp}
            onLamp={doneLamp}
          />
        )
      }
      foot={
        <>
          <span>{status?.renderer}</span>
          <span>{shots.length} shots</span>
          <span>{takes?.length ?? 0} takes</span>
        </>
      }
    />
  );
}

/** The picture's frame on the neutral surround, as large as its shape allows. */
function PictureFrame(props: { aspect: number; caption: string; guides: boolean; children: React.ReactNode }) {
  const outer = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const [w, h] = [entry.contentRect.width - 56, entry.contentRect.height - 84];
      const width = Math.max(40, Math.min(w, h * props.aspect));
      setBox({ width, height: width / props.aspect });
    });
    watch.observe(outer.current!);
    return () => watch.disconnect();
  }, [props.aspect]);
  return (
    <div ref={outer} className="absolute inset-0 grid place-content-center">
      <div className="relative overflow-hidden" style={box} data-testid="picture">
        {props.children}
        {props.guides && (
          <div aria-hidden="true" className="pointer-events-none absolute inset-0">
            {[1 / 3, 2 / 3].map((share) => (
              <span key={share}>
                <span className="absolute top-0 h-full w-px bg-page/60" style={{ left: `${share * 100}%` }} />
                <span className="absolute left-0 h-px w-full bg-page/60" style={{ top: `${share * 100}%` }} />
              </span>
            ))}
          </div>
        )}
      </div>
      <p className="mt-2 font-medium text-page" data-testid="caption" style={{ textShadow: "0 0 3px #000a" }}>
        {props.caption}
      </p>
    </div>
  );
}

function TakePicture({ project, take }: { project: string; take: Shapes["TakeShape"] }) {
  if (take.picture) {
    return <Picture src={pictureOf(project, take)} alt={`Take of ${take.name}`} className="h-full w-full" />;
  }
  return (
    <div className="grid h-full place-content-center bg-paper text-quiet">
      {take.problem ?? (take.state === "queued" ? "Waiting in the darkroom" : "The first picture is coming")}
    </div>
  );
}

export function takeCaption(take: Shapes["TakeShape"]): string {
  const parts = [take.name, take.quality, `${take.samples} of ${take.wanted} samples`];
  if (take.noise != null) parts.push(`noise ${(take.noise * 100).toFixed(1)} %`);
  parts.push(`${take.seconds.toFixed(1)} s`);
  if (take.state === "developing" && take.left != null) parts.push(`${duration(take.left)} left`);
  if (take.state === "cancelled") parts.push("cancelled");
  if (take.state === "failed") parts.push("failed");
  return parts.join(", ");
}
