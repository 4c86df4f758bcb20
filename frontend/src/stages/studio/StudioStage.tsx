import { useEffect } from "react";
import { changedFields } from "../../api/change";
import { answer, api, type Shapes } from "../../api/client";
import { at, newId, useEdit, useForm, useStatus, useStudio, useTakes, useWork } from "../../api/queries";
import { useAddressedView } from "../../bench/address";
import { withWords } from "../../bench/commands";
import { useCopying } from "../../bench/copying";
import { type StageProps, useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { useSkins } from "../../view3d/useParts";
import { told, tr } from "../../words/words";
import { CameraOptions, LampOptions, SweepOptions } from "./options";
import { StudioCanvas } from "./StudioCanvas";
import { StudioInspector } from "./StudioInspector";
import { type Setting, useStudioHand, useStudioStage } from "./store";
import { STUDIO_WORDS } from "./words";

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
  const { shot: chosenShot, chooseShot } = useBench();
  const work = useWork();
  const state = useStudioStage();
  const { set } = state;
  const parts = useSkins(project, formRow.id, form);
  const stored = data?.body.setting as Setting | undefined;
  const shots = data?.body.shots ?? [];
  const shot = shots.find((candidate) => candidate.id === chosenShot) ?? shots.at(-1);
  useEffect(() => {
    if (shot && shot.id !== chosenShot) chooseShot(shot.id); // the address says which shot it is
  }, [shot, chosenShot, chooseShot]);
  useAddressedView("Studio", shot?.id ?? null, shot ? (state.take ?? "") : null, (take) => set({ take: take || null }));
  const take = takes?.find((candidate) => candidate.id === state.take);

  const commit = async (change: Parameters<typeof edit>[0]) => {
    const kept = await edit(change);
    useStudioHand.setState({ draft: null });
    return kept;
  };
  const draft = (fields: Partial<Setting>) => {
    const setting = useStudioHand.getState().draft ?? stored;
    if (!setting) return;
    useStudioHand.setState({ draft: { ...setting, ...fields } });
    if (state.take) set({ take: null });
  };
  const draftLamp = (lamp: Shapes["Lamp"]) => {
    const { lamps = [] } = useStudioHand.getState().draft ?? stored ?? {};
    draft({ lamps: lamps.map((other) => (other.id === lamp.id ? lamp : other)) });
  };

  const keepShot = async (): Promise<string | null> => {
    const id = newId().slice(0, 8);
    const names = new Set(shots.map((other) => other.name));
    let number = shots.length + 1;
    while (names.has(tr`Shot ${number}`)) number++;
    const kept = await commit({
      kind: "keep_shot",
      id,
      name: tr`Shot ${number}`,
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
    await work(async () => {
      const made = await answer(
        api.POST("/api/projects/{project}/studios/{document}/takes", {
          ...at(project, row.id),
          body: { shot: id, quality },
        }),
      );
      set({ take: made.id });
    });
  };
  const doneLamp = (next: Shapes["Lamp"]) => {
    const was = stored?.lamps?.find((other) => other.id === next.id) ?? {};
    return commit({ amend: { kind: "lamp", id: next.id, fields: changedFields(was, next) } });
  };
  const formParts = form?.body.parts ?? [];
  const chosenPart = formParts.find((part) => part.id === state.part) ?? formParts[0];
  const lamp = stored?.lamps?.find((candidate) => candidate.id === state.lamp) ?? stored?.lamps?.[0];
  const options = stored && {
    lamp: lamp && <LampOptions stored={stored} lamp={lamp.id} onDraft={draftLamp} onDone={doneLamp} />,
    camera: (
      <CameraOptions
        stored={stored}
        onDraft={(camera) => draft({ camera })}
        onDone={(camera) => commit({ amend: { kind: "camera", fields: changedFields(stored.camera ?? {}, camera) } })}
      />
    ),
    sweep: (
      <SweepOptions
        sweep={stored.sweep!}
        onDone={(sweep) => commit({ amend: { kind: "sweep", fields: changedFields(stored.sweep ?? {}, sweep) } })}
      />
    ),
  };
  const tool = (name: typeof state.tool) => ({ active: state.tool === name, run: () => set({ tool: name }) });
  const commands = withWords(
    [
      { id: "lamp", likely: 6, name: tr("Lamp"), group: "Light", key: "a", options: options?.lamp, ...tool("lamp") },
      {
        id: "alone",
        name: tr("This lamp alone"),
        group: "Light",
        key: "o",
        note: state.alone ? tr("on") : undefined,
        run: () => set({ alone: state.alone ? null : (lamp?.id ?? null), take: null }),
      },
      {
        id: "three-point",
        name: tr("Start: three-point"),
        group: "Light",
        run: () => commit({ kind: "start_three_point" }),
      },
      {
        id: "camera",
        likely: 6,
        name: tr("Camera"),
        group: "Frame",
        key: "c",
        options: options?.camera,
        ...tool("camera"),
      },
      {
        id: "guides",
        name: tr("Thirds"),
        group: "Frame",
        key: "g",
        note: state.guides ? tr("on") : undefined,
        run: () => set({ guides: !state.guides }),
      },
      { id: "sweep", likely: 5, name: tr("Sweep"), group: "Set", key: "w", options: options?.sweep, ...tool("sweep") },
      { id: "keep", likely: 4, name: tr("Keep as a new shot"), group: "Shot", key: "k", run: () => void keepShot() },
      { id: "draft", likely: 9, name: tr("Draft take"), group: "Take", key: "d", run: () => takePicture("draft") },
      { id: "review", likely: 5, name: tr("Review take"), group: "Take", key: "r", run: () => takePicture("review") },
      { id: "final", name: tr("Final take"), group: "Take", key: "f", run: () => takePicture("final") },
      { id: "preview", name: tr("Preview"), group: "Take", key: "escape", run: () => set({ take: null }) },
    ],
    STUDIO_WORDS,
  );

  const copying = useCopying({
    project,
    document: row.id,
    thing: !stored
      ? undefined
      : state.tool === "camera"
        ? { what: "camera", items: [], said: tr("the camera") }
        : state.tool === "lamp" && lamp
          ? { what: "lamp", items: [lamp.id], said: tr`the ${tr(lamp.role)} lamp` }
          : { what: "light", items: [], said: tr("the light") },
    hint: tr("The studio is not here yet."),
    onto: { lamp: { id: lamp?.id }, finish: { id: chosenPart?.id, name: chosenPart?.name } },
  });

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={[...commands, ...copying]}
      canvas={
        <StudioCanvas
          project={project}
          formId={formRow.id}
          form={form}
          stored={stored}
          parts={parts}
          shot={shot}
          take={take}
        />
      }
      inspector={
        stored && (
          <StudioInspector
            project={project}
            documents={documents}
            studio={row.id}
            stored={stored}
            formId={formRow.id}
            shots={shots}
            shot={shot}
            takes={takes ?? []}
            parts={formParts}
            formHead={form?.standing.head ?? 0}
            edit={commit}
            onDraft={draftLamp}
            onLamp={doneLamp}
          />
        )
      }
      foot={
        <>
          <span>{status && told(status.renderer)}</span>
          <span>
            {shots.length} {tr("shots")}
          </span>
          <span>
            {takes?.length ?? 0} {tr("takes")}
          </span>
        </>
      }
    />
  );
}
