import { useEffect, useMemo, useState } from "react";
import type { Shapes } from "../../api/client";
import { deliver } from "../../api/outbox";
import { adopt } from "../../api/queries";
import { useBench } from "../../bench/store";
import { Page } from "../../paper/page";

/** The pixels of a sheet, which follow it; `stamp` changes whenever they did. */
export function useSheetPage(address: string, document: string, data: Shapes["SheetState"] | undefined) {
  const notify = useBench((bench) => bench.notify);
  const [stamp, setStamp] = useState(0);
  const { width, height, paper } = data?.body ?? {};
  const page = useMemo(
    () =>
      width && height && paper
        ? new Page(
            address,
            width,
            height,
            paper,
            () => setStamp((n) => n + 1),
            (what, send) => deliver(document, what, send),
            (answered, from) => adopt(document, answered, from),
          )
        : null,
    [address, width, height, paper, document],
  );
  const head = data && (data.standing.head ?? null);
  useEffect(() => {
    if (page && head !== undefined) page.follow(head).catch((error) => notify(error.message));
  }, [page, head, notify]);
  return { page, stamp };
}
