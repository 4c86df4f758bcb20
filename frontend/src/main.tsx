import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { queries } from "./api/queries";
import "./app.css";
import { followTheAddress } from "./bench/address";
import { Door } from "./bench/Door";

followTheAddress();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Door />
    </QueryClientProvider>
  </StrictMode>,
);
