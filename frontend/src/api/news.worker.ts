/** One stream of news for all tabs of this browser: it opens few connections to one server, and lends them all out to tabs. */
import { type News, openStream } from "./newsStream";

const tabs = new Set<MessagePort>();
let close: (() => void) | null = null;
let open = false;

function tell(news: News) {
  if (news.kind === "hello") open = true;
  if (news.kind === "lost") open = false;
  for (const tab of tabs) tab.postMessage(news);
}

addEventListener("connect", (event) => {
  const tab = (event as MessageEvent).ports[0]!;
  tabs.add(tab);
  tab.onmessage = () => {
    tabs.delete(tab);
    if (tabs.size) return;
    close?.();
    close = null;
    open = false;
  };
  close ??= openStream(tell);
  if (open) tab.postMessage({ kind: "hello", data: {} } satisfies News);
});
