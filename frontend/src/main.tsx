import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { queries } from "./api/queries";
import "./app.css";
import { Door } from "./bench/Door";

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Door />
    </QueryClientProvider>
  </StrictMode>,
);
