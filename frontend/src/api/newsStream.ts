/** What a stream tells: that it is open, that it is cut off, or a piece of news. */
export type News = { kind: string; data: Record<string, unknown> };

const KINDS = ["document", "take", "task", "renderer"];

/** Opens the server's stream of all news; returns what closes it. */
export function openStream(tell: (news: News) => void): () => void {
  const stream = new EventSource("/api/events");
  stream.addEventListener("hello", () => tell({ kind: "hello", data: {} }));
  stream.onerror = () => tell({ kind: "lost", data: {} });
  for (const kind of KINDS)
    stream.addEventListener(kind, (event) => tell({ kind, data: JSON.parse((event as MessageEvent).data) }));
  return () => stream.close();
}
