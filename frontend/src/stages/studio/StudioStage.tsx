import { useEffect } from "react";
import { changedFields } from "../../api/change";
import { answer, api } from "../../api/client";
import { at, newId, useEdit, useForm, useStatus, useStudio, useTakes, useWork } from "../../api/queries";
import { useAddressedView } from "../../bench/address";
import { withWords } from "../../bench/commands";
import { useCopying } from "../../bench/copying";
import { type StageProps, useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { useSkins } from "../../view3d/useParts";
import { told, tr } from "../../words/words";
import type { Camera, Lamp } from "./kinds";
import { calledOf, wearersOf } from "./kinds";
import { movedCamera, movedSet } from "./moves";
import { CameraOptions, LampOptions, SetOptions } from "./options";
import { StudioCanvas } from "./StudioCanvas";
import { StudioInspector } from "./StudioInspector";
import { type Setting, type StudioTool, useSetting, useStudioHand, useStudioStage } from "./store";
import { useStaging } from "./useStaging";
import { useTouches } from "./useTouches";
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
  const doneLamp = (next: Lamp) => {
    const was = stored?.lamps?.find((other) => other.id === next.id) ?? {};
    return commit({ amend: { kind: "lamp", id: next.id, fields: changedFields(was, next) } });
  };
  const doneCamera = (camera: Camera) =>
    commit({ amend: { kind: "camera", fields: changedFields(stored?.camera ?? {}, camera) } });
  const formParts = form?.body.parts ?? [];
  const wearers = wearersOf(formParts, stored?.zones ?? []);
  const wearer = wearers.find((one) => one.id === state.wearer) ?? wearers[0];
  const lamp = stored?.lamps?.find((candidate) => candidate.id === state.lamp) ?? stored?.lamps?.[0];
  const size: [number, number] = shot ? [shot.width ?? 960, shot.height ?? 600] : state.size;
  const place = { project, form: formRow.id };
  const staging = useSettingStaged(project, formRow.id, row.id, form?.standing.head, stored);
  const facts = staging?.facts;
  const touches = useTouches({ place, stored, size, commit, draft, doneLamp, doneCamera, parts: formParts });
  const move = (wish: Parameters<typeof movedCamera>[2]) =>
    work(async () => {
      if (stored) await doneCamera(await movedCamera(place, stored, wish));
    });
  const widen = () =>
    work(async () => {
      if (stored) await commit({ kind: "build_set", set: await movedSet(place, stored, { kind: "widen", size }) });
    });
  const options = stored && {
    lamp: lamp && (
      <LampOptions
        stored={stored}
        lamp={lamp.id}
        onDraft={(next) => draft({ lamps: stored.lamps?.map((other) => (other.id === next.id ? next : other)) })}
        onDone={doneLamp}
      />
    ),
    camera: <CameraOptions stored={stored} onDraft={(camera) => draft({ camera })} onDone={doneCamera} />,
    set: <SetOptions stored={stored} edit={commit} />,
  };
  const tool = (name: StudioTool) => ({ active: state.tool === name, run: () => set({ tool: name }) });
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
        id: "highlight",
        likely: 7,
        name: tr("Highlight here"),
        group: "Light",
        key: "h",
        cannot: lamp ? undefined : tr("There is no lamp yet. Add one first."),
        ...tool("highlight"),
      },
      {
        id: "three-point",
        name: tr("Start: three-point"),
        group: "Light",
        seldom: true,
        run: () => commit({ kind: "start_light", start: "three-point" }),
      },
      { id: "surround", likely: 5, name: tr("Surround"), group: "Light", key: "u", ...tool("surround") },
      {
        id: "camera",
        likely: 6,
        name: tr("Camera"),
        group: "Frame",
        key: "c",
        options: options?.camera,
        ...tool("camera"),
      },
      { id: "focus", likely: 4, name: tr("Focus"), group: "Frame", key: "t", ...tool("focus") },
      {
        id: "frame-product",
        name: tr("Frame the product"),
        group: "Frame",
        key: "e",
        run: () => move({ kind: "frame", size }),
      },
      {
        id: "guides",
        name: tr("Thirds"),
        group: "Frame",
        key: "g",
        note: state.guides === "none" ? undefined : tr(state.guides),
        run: () => set({ guides: state.guides === "none" ? "thirds" : "none" }),
      },
      {
        id: "set",
        likely: 5,
        name: tr("Build the set"),
        group: "Set",
        key: "w",
        options: options?.set,
        ...tool("set"),
      },
      { id: "units", likely: 4, name: tr("Products"), group: "Set", key: "p", ...tool("units") },
      { id: "finish", likely: 6, name: tr("Finishes"), group: "Finish", key: "m", ...tool("finish") },
      { id: "faces", likely: 3, name: tr("Some faces"), group: "Finish", key: "j", ...tool("faces") },
      { id: "mark", likely: 4, name: tr("Marks"), group: "Finish", key: "l", ...tool("mark") },
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
          ? { what: "lamp", items: [lamp.id], said: tr`the ${tr(calledOf(lamp))} lamp` }
          : { what: "light", items: [], said: tr("the light") },
    hint: tr("The studio is not here yet."),
    onto: { lamp: { id: lamp?.id }, finish: { id: wearer?.id, name: wearer?.name } },
  });

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={[...commands, ...copying]}
      canvas={
        <StudioCanvas
          project={project}
          studio={row.id}
          formId={formRow.id}
          form={form}
          facts={facts}
          size={size}
          onTouch={touches[state.tool] ?? null}
          onWiden={widen}
          stored={stored}
          parts={parts}
          shot={shot}
          beside={shots.find((other) => other.id === state.beside)}
          take={take}
        />
      }
      inspector={
        stored &&
        data && (
          <StudioInspector
            project={project}
            documents={documents}
            studio={row.id}
            body={data.body}
            stored={stored}
            formId={formRow.id}
            shots={shots}
            shot={shot}
            takes={takes ?? []}
            parts={formParts}
            formHead={form?.standing.head ?? 0}
            size={size}
            facts={facts}
            mapWanted={staging?.map_wanted}
            edit={commit}
            onDraft={draft}
            onLamp={doneLamp}
            onCamera={doneCamera}
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

/** The setting worked out, also while something is dragged. */
function useSettingStaged(
  project: string,
  form: string,
  studio: string,
  head: number | null | undefined,
  stored?: Setting,
) {
  const setting = useSetting(stored ?? {});
  return useStaging(project, form, studio, stored && head !== undefined ? (head ?? null) : undefined, setting);
}
