import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import "./app.css";
import { learn } from "./words/words";

/** What speaks is loaded once its language is known. */
async function begin(): Promise<void> {
  await learn();
  const [{ queries }, { followTheAddress }, { Door }] = await Promise.all([
    import("./api/queries"),
    import("./bench/address"),
    import("./bench/Door"),
  ]);
  followTheAddress();
  createRoot(document.getElementById("root")!).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <Door />
      </QueryClientProvider>
    </StrictMode>,
  );
}

begin();
