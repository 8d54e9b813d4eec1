import { type ChildProcess, execFile, spawn } from "node:child_process";
import { openSync, readFileSync } from "node:fs";
import { createServer } from "node:net";
import { setTimeout as sleep } from "node:timers/promises";
import { promisify } from "node:util";
import { PROGRAMS } from "../packages/cli/src/paths.js";

// What benches of a real server share.

export const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, "127.0.0.1", () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

/** Starts one of Tourney's programs with its output in a log, and waits until it says that it is ready. */
export function startProgram(args: readonly string[], env: NodeJS.ProcessEnv, logPath: string): Promise<ChildProcess> {
  const logFile = openSync(logPath, "a");
  const child = spawn(process.execPath, [...args], { env, stdio: ["ignore", logFile, logFile, "ipc"] });
  return new Promise((resolve, reject) => {
    child.once("message", () => resolve(child));
    child.once("exit", (code) =>
      reject(new Error(`${args[0]!} ended with ${code}:\n${readFileSync(logPath, "utf8").slice(-1500)}`)),
    );
  });
}

const suiteOf = (key: string, prompts: number) =>
  [
    `format: tourney-suite/1\nkey: ${key}\ntitle: ${key}\nprompts:`,
    ...Array.from(
      { length: prompts },
      (_, i) =>
        `  - { key: p${i}, title: Prompt ${i}, kind: game, summary: Play., text: "Build a small page about Lock Keeper, number ${i}, for a gallery screen in a museum.", motion: true, watchpoints: [It works] }`,
    ),
  ].join("\n");
const entrantsOf = (prefix: string, count: number, baseUrl: string, concurrency: number) =>
  [
    "format: tourney-entrants/1\nentrants:",
    ...Array.from(
      { length: count },
      (_, i) =>
        `  - { key: ${prefix}${i}, name: ${prefix} ${i}, model: samphire-3, endpoint: { protocol: chat-completions, baseUrl: "${baseUrl}", concurrency: ${concurrency} }, prices: { input: 1, output: 2 } }`,
    ),
  ].join("\n");

/** Calls the server as the lead. */
export interface Api {
  <T>(method: string, path: string, body?: unknown): Promise<T>;
  origin: string;
  cookie: () => string;
}

export async function signIn(origin: string, env: NodeJS.ProcessEnv): Promise<Api> {
  const { stdout } = await promisify(execFile)(process.execPath, [PROGRAMS.admin, "sign-in"], { env });
  const token = stdout.trim().split("/").at(-1)!;
  let cookie = "";
  const call = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    for (let attempt = 0; ; attempt++) {
      try {
        const response = await fetch(origin + path, {
          method,
          headers: { "Content-Type": "application/json", Cookie: cookie },
          ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        });
        cookie = response.headers.getSetCookie()[0]?.split(";")[0] ?? cookie;
        if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
        return (await response.json()) as never;
      } catch (error) {
        // The server is being killed and started again.
        if (attempt > 50 || !(error instanceof TypeError)) throw error;
        await sleep(100);
      }
    }
  };
  await call("POST", "/api/session", { token });
  return Object.assign(call, { origin, cookie: () => cookie });
}

interface Edition {
  id: string;
  prompts: { id: string }[];
}
/** Enters a suite of so many prompts and so many entrants at one endpoint. */
export async function prepare(
  api: Api,
  key: string,
  sizes: { prompts: number; entrants: number; concurrency: number },
  baseUrl: string,
) {
  const { edition } = await api<{ edition: Edition }>("POST", "/api/suites/import", {
    yaml: suiteOf(key, sizes.prompts),
  });
  const { entrants } = await api<{ entrants: { id: string }[] }>("POST", "/api/entrants/import", {
    yaml: entrantsOf(key, sizes.entrants, baseUrl, sizes.concurrency),
  });
  return {
    editionId: edition.id,
    promptIds: edition.prompts.map(({ id }) => id),
    entrantIds: entrants.map(({ id }) => id),
  };
}
