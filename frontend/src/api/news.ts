import { useEffect } from "react";
import { useBench } from "../bench/store";
import { type Shapes, TAB } from "./client";
import { type News, openStream } from "./newsStream";
import { askBeforeLeaving, serverIsBack } from "./outbox";
import { catchUp, queries, refresh } from "./queries";

/** News by the stream this browser's tabs share, or by one of this tab's own where browsers know no shared workers. */
function listen(tell: (news: News) => void): () => void {
  if (!("SharedWorker" in window)) return openStream(tell);
  const { port } = new SharedWorker(new URL("./news.worker.ts", import.meta.url), { type: "module", name: "news" });
  port.onmessage = (event: MessageEvent<News>) => tell(event.data);
  const leave = () => port.postMessage("leave");
  window.addEventListener("pagehide", leave);
  return () => {
    window.removeEventListener("pagehide", leave);
    leave();
    port.close();
  };
}

/** Listens to the project's news: takes as they develop, edits made in other tabs. */
export function useNews(project: string): void {
  const setConnected = useBench((bench) => bench.setConnected);
  useEffect(() => {
    let lost = false;
    const hear: Record<string, (data: Record<string, unknown>) => void> = {
      hello: () => {
        setConnected(true);
        serverIsBack();
        if (lost) catchUp();
        lost = false;
      },
      lost: () => {
        lost = true;
        setConnected(false);
      },
      take: (data) => {
        const take = data as unknown as Shapes["TakeShape"];
        queries.setQueryData<Shapes["TakeShape"][]>(["takes", project], (takes) => {
          if (!takes) return takes;
          const known = takes.some((other) => other.id === take.id);
          return known ? takes.map((other) => (other.id === take.id ? take : other)) : [...takes, take];
        });
      },
      document: (data) => {
        if (data.tab !== TAB) refresh(data.document as string);
      },
      task: (data) => {
        const task = data as unknown as Shapes["TaskShape"];
        queries.setQueryData<Shapes["TaskShape"][]>(["tasks", project], (tasks = []) => {
          const others = tasks.filter((other) => other.id !== task.id);
          return task.state === "queued" || task.state === "running" ? [...others, task] : others;
        });
      },
      projects: () => queries.invalidateQueries({ queryKey: ["projects"] }),
      renderer: () => queries.invalidateQueries({ queryKey: ["status"] }),
    };
    const leave = listen(({ kind, data }) => {
      if (!data.project || data.project === project) hear[kind]?.(data);
    });
    // a tab that slept has heard nothing, and its stream may not know yet that it is cut off
    const awake = () => document.visibilityState === "visible" && catchUp();
    document.addEventListener("visibilitychange", awake);
    window.addEventListener("online", serverIsBack);
    window.addEventListener("beforeunload", askBeforeLeaving);
    return () => {
      leave();
      document.removeEventListener("visibilitychange", awake);
      window.removeEventListener("online", serverIsBack);
      window.removeEventListener("beforeunload", askBeforeLeaving);
    };
  }, [project, setConnected]);
}
