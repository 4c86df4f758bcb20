import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../src/hollow_marble/web/static",
    emptyOutDir: true,
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      output: {
        advancedChunks: { groups: [{ name: "three", test: /node_modules[\\/](three|@react-three)/ }] },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8642" } },
});
