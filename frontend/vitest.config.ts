import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

/** Rules of showing are tested as functions; stages in a document without a screen, on a real server. */
export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      { test: { name: "rules", include: ["tests/*.test.ts"] } },
      {
        plugins: [react()],
        test: {
          name: "stages",
          include: ["tests/stages/*.test.tsx"],
          environment: "jsdom",
          globalSetup: "tests/stages/server.ts",
          setupFiles: "tests/stages/dom.ts",
          testTimeout: 60_000,
        },
      },
    ],
  },
});
