/** One real server, on a database of its own, for all tests of stages. */
import { spawn } from "node:child_process";
import { mkdtemp, rm } from "node:fs/promises";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { TestProject } from "vitest/node";

declare module "vitest" {
  export interface ProvidedContext {
    server: string;
    /** The folder of its project files. */
    files: string;
  }
}

const COMMAND = process.env.HOLLOW_MARBLE ?? join("..", ".venv", "bin", "hollow-marble");

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

export default async function setup({ provide }: TestProject) {
  const data = await mkdtemp(join(tmpdir(), "hollow-marble-"));
  const port = await freePort();
  const child = spawn(COMMAND, ["serve", "--data", data, "--port", String(port)], { stdio: "ignore" });
  const ended = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  child.once("error", (error) => console.error(`The server cannot be started: ${error.message}`));
  const server = `http://127.0.0.1:${port}`;
  const deadline = Date.now() + 60_000;
  for (;;) {
    const answered = await fetch(`${server}/api/status`).catch(() => null);
    if (answered?.ok) break;
    if (child.exitCode !== null || Date.now() > deadline) throw new Error(`${COMMAND} did not come up`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  provide("server", server);
  provide("files", join(data, "projects"));
  return async () => {
    child.kill();
    await ended;
    await rm(data, { recursive: true });
  };
}
