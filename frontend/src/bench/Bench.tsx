import { type ComponentType, lazy, Suspense, useEffect, useMemo, useState } from "react";
import type { Shapes } from "../api/client";
import { useNews } from "../api/news";
import { queries, useProject, useWork } from "../api/queries";
import { useKnobKeys } from "../ui/knobs";
import { tr } from "../words/words";
import { BriefPanel } from "./brief/BriefPanel";
import { CanvasMenu } from "./CanvasMenu";
import { CommandBox } from "./CommandBox";
import { type Command, useCommands } from "./commands";
import { usePastedFiles } from "./copying";
import { Edge } from "./Edge";
import { Header } from "./Header";
import { KeySheet } from "./KeySheet";
import { useKeys } from "./keys";
import { Notice } from "./Notice";
import { ProjectsPanel } from "./ProjectsPanel";
import { SettingsPanel } from "./SettingsPanel";
import { StageBoundary } from "./StageBoundary";
import { bringInto } from "./shelf/arrivals";
import { useDrop } from "./shelf/useDrop";
import { STAGES, type Stage, type StageProps, useBench, useSettings } from "./store";

const COME: Record<Stage, () => Promise<{ default: ComponentType<StageProps> }>> = {
  Sketch: () => import("../stages/sketch/SketchStage"),
  Form: () => import("../stages/form/FormStage"),
  Surface: () => import("../stages/surface/SurfaceStage"),
  Studio: () => import("../stages/studio/StudioStage"),
  Review: () => import("../stages/review/ReviewStage"),
};
const SHOWN: Record<Stage, ComponentType<StageProps>> = {
  Sketch: lazy(COME.Sketch),
  Form: lazy(COME.Form),
  Surface: lazy(COME.Surface),
  Studio: lazy(COME.Studio),
  Review: lazy(COME.Review),
};

/** Fetches the stages one does not stand in while nothing else is to do, so that they are here if the server goes away. */
function useOtherStages(): void {
  useEffect(() => {
    if (!("requestIdleCallback" in window)) return; // there they come when they are wanted
    let next = 0;
    const fetchNext = () => {
      const name = STAGES[next++];
      // what does not come now is asked for again when it is wanted
      if (name) COME[name]().then(whenIdle, whenIdle);
    };
    let waiting = 0;
    const whenIdle = () => {
      waiting = requestIdleCallback(fetchNext);
    };
    whenIdle();
    return () => {
      next = STAGES.length;
      cancelIdleCallback(waiting);
    };
  }, []);
}

type Opened = "brief" | "commands" | "keys" | "settings" | "projects" | null;

/** A stage that is still on its way; where it is here at once nothing of this is seen. */
function Coming({ stage }: { stage: Stage }) {
  return (
    <div className="grid h-full place-content-center bg-canvas text-quiet">
      <p role="status" className="coming">
        {tr`Opening ${tr(stage)}`}
      </p>
    </div>
  );
}

/** The application window around every stage. */
export function Bench(props: { project: Shapes["ProjectShape"]; onOpen: (id: string) => void }) {
  const { stage, go, bare, setBare } = useBench();
  const settings = useSettings();
  const { data } = useProject(props.project.id);
  const [opened, setOpened] = useState<Opened>(null);
  const close = () => setOpened(null);
  const setBench = useCommands((registry) => registry.setBench);
  useNews(props.project.id);
  useKeys();
  useKnobKeys();
  useOtherStages();

  const work = useWork();
  const bringIn = (files: File[]) =>
    work(async () => {
      for (const file of files) await bringInto(props.project.id, data?.documents ?? [], file);
    });
  const over = useDrop(bringIn);
  usePastedFiles(bringIn);

  const commands = useMemo<Command[]>(
    () => [
      ...STAGES.map((name, index) => ({
        id: `stage-${name.toLowerCase()}`,
        name: tr`Go to ${tr(name)}`,
        group: "Stages",
        key: String(index + 1),
        run: () => go(name),
      })),
      {
        id: "bare",
        name: bare === "nothing" ? tr("Only the canvas") : tr("Bring the panels back"),
        group: "Bench",
        key: "0",
        does: tr("Clear everything away but the canvas; the edges bring it back."),
        means: tr("full screen fullscreen focus hide panels zen distraction"),
        run: () => setBare(bare === "nothing" ? "panels" : "nothing"),
      },
      { id: "commands", name: tr("All commands"), group: "Bench", key: "mod+k", run: () => setOpened("commands") },
      {
        id: "brief",
        name: tr("The brief"),
        group: "Bench",
        key: "mod+b",
        does: tr("What the product must be, how large, and pictures to look at."),
        means: tr("goal size envelope references moodboard notes requirements"),
        run: () => setOpened("brief"),
      },
      { id: "keys", name: tr("Keys"), group: "Bench", key: "?", run: () => setOpened("keys") },
      { id: "settings", name: tr("Settings"), group: "Bench", run: () => setOpened("settings") },
      { id: "projects", name: tr("Projects"), group: "Bench", run: () => setOpened("projects") },
    ],
    [go, bare, setBare],
  );
  useEffect(() => setBench(commands), [commands, setBench]);

  useEffect(() => {
    queries.invalidateQueries({ queryKey: ["project", props.project.id] }); // the thread shows where documents stand
  }, [stage, props.project.id]);

  const judge = stage === "Surface" || stage === "Studio";
  useEffect(() => {
    const root = document.documentElement;
    root.style.setProperty("--scale", String(settings.size / 100));
    root.dataset.judge = String(judge);
    root.dataset.still = String(settings.still);
    document.title = `${props.project.name} · Hollow Marble`;
  }, [settings.size, settings.still, judge, props.project.name]);

  const documents = data?.documents;
  const header = (
    <Header
      project={props.project}
      documents={documents ?? []}
      onProjects={() => setOpened("projects")}
      onBrief={() => setOpened("brief")}
      onKeys={() => setOpened("keys")}
      onSettings={() => setOpened("settings")}
    />
  );
  const Shown = SHOWN[stage];
  return (
    <div className={`relative flex h-full flex-col ${over ? "outline outline-4 outline-act -outline-offset-4" : ""}`}>
      {bare === "nothing" && header}
      {bare === "panels" && (
        <Edge side="top" name={tr("Stages")} reaches>
          {header}
        </Edge>
      )}
      <div className="min-h-0 flex-1" data-hand={settings.hand}>
        <StageBoundary key={stage} stage={stage}>
          <Suspense fallback={<Coming stage={stage} />}>
            {documents && <Shown project={props.project.id} documents={documents} />}
          </Suspense>
        </StageBoundary>
      </div>
      <CanvasMenu />
      <Notice />
      {opened === "brief" && documents && (
        <BriefPanel project={props.project.id} documents={documents} onClose={close} />
      )}
      {opened === "commands" && <CommandBox onClose={close} />}
      {opened === "keys" && <KeySheet onClose={close} />}
      {opened === "settings" && <SettingsPanel onClose={close} />}
      {opened === "projects" && (
        <ProjectsPanel
          current={props.project.id}
          onClose={close}
          onOpen={(id) => {
            close();
            props.onOpen(id);
          }}
        />
      )}
    </div>
  );
}
