import { useEffect } from "react";
import { useBench } from "../bench/store";
import { type Shapes, TAB } from "./client";
import { askBeforeLeaving, serverIsBack } from "./outbox";
import { catchUp, queries, refresh } from "./queries";

/** Listens to the project's news: takes as they develop, edits made in other tabs. */
export function useNews(project: string): void {
  const setConnected = useBench((bench) => bench.setConnected);
  useEffect(() => {
    const stream = new EventSource(`/api/events?project=${project}`);
    let lost = false;
    stream.addEventListener("hello", () => {
      setConnected(true);
      serverIsBack();
      if (lost) catchUp();
      lost = false;
    });
    stream.onerror = () => {
      lost = true;
      setConnected(false);
    };
    stream.addEventListener("take", (event) => {
      const take = JSON.parse((event as MessageEvent).data) as Shapes["TakeShape"];
      queries.setQueryData<Shapes["TakeShape"][]>(["takes", project], (takes) => {
        if (!takes) return takes;
        const known = takes.some((other) => other.id === take.id);
        return known ? takes.map((other) => (other.id === take.id ? take : other)) : [...takes, take];
      });
    });
    stream.addEventListener("document", (event) => {
      const news = JSON.parse((event as MessageEvent).data) as { document: string; tab: string };
      if (news.tab !== TAB) refresh(news.document);
    });
    stream.addEventListener("task", (event) => {
      const task = JSON.parse((event as MessageEvent).data) as Shapes["TaskShape"];
      queries.setQueryData<Shapes["TaskShape"][]>(["tasks", project], (tasks = []) => {
        const others = tasks.filter((other) => other.id !== task.id);
        return task.state === "queued" || task.state === "running" ? [...others, task] : others;
      });
    });
    stream.addEventListener("renderer", () => queries.invalidateQueries({ queryKey: ["status"] }));
    // a tab that slept has heard nothing, and its stream may not know yet that it is cut off
    const awake = () => document.visibilityState === "visible" && catchUp();
    document.addEventListener("visibilitychange", awake);
    window.addEventListener("online", serverIsBack);
    window.addEventListener("beforeunload", askBeforeLeaving);
    return () => {
      stream.close();
      document.removeEventListener("visibilitychange", awake);
      window.removeEventListener("online", serverIsBack);
      window.removeEventListener("beforeunload", askBeforeLeaving);
    };
  }, [project, setConnected]);
}
