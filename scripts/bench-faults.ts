import { type ChildProcess, execFile, spawn } from "node:child_process";
import { existsSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { cpus } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { promisify } from "node:util";
import { type DatabaseAddress, resolveConnection, toClientConfig } from "@tourney/store";
import pg from "pg";
import { openInstance, readLock, readSecrets } from "../packages/cli/src/instance.js";
import { PROGRAMS } from "../packages/cli/src/paths.js";
import { describeEnvironment, startStack } from "../packages/cli/src/supervisor.js";
import { flag } from "./booth-scene.js";

/**
 * What becomes of a run of 600 cells while each part of a whole Tourney is killed in turn: the server, the recorder, the stand-in endpoint,
 * PostgreSQL and the supervisor, and while all of them are stopped for 45 s once, as when a laptop sleeps. Prints one JSON line.
 * `--kills N` shortens it, `--cells N` makes it smaller. Voters are `bench:booth`'s.
 */
const KILLS = flag("kills", 30);
const CELLS = flag("cells", 600);
const ENTRANTS = 10;
const CONCURRENCY = 4;
const SLEEP_MS = 45_000;
/** Nobody comes to help: what is not back by then is stuck. */
const LONGEST_MS = 10 * 60_000;
const PARTS = ["server", "recorder", "stand-in", "PostgreSQL", "supervisor"] as const;
type Part = (typeof PARTS)[number];

const instance = openInstance("bench-faults");
const PORTS = flag("ports", 5810);

/** Runs in a process of its own, so that it can be killed too. */
async function supervise(): Promise<void> {
  const standIn = { seed: 3, speed: 30, faults: false };
  const stack = await startStack({
    instance,
    ports: { app: PORTS, exhibit: PORTS + 1, standIn: PORTS + 2 },
    database: null,
    standIn,
    environment: { TOURNEY_SHELF_INTAKE: "off", TOURNEY_LOG_LEVEL: "warn" },
  });
  process.on("SIGTERM", () => void stack.stop().then(() => process.exit(0)));
}

function startSupervisor(): ChildProcess {
  const args = [
    "--import",
    "tsx",
    "--conditions=tourney-source",
    import.meta.filename,
    "--supervise",
    "--ports",
    String(PORTS),
  ];
  return spawn(process.execPath, args, { stdio: ["ignore", "ignore", "inherit"] });
}

const read = (path: string): string => {
  try {
    return readFileSync(path, "utf8");
  } catch {
    // It ended meanwhile.
    return "";
  }
};

/** The processes of this instance whose command line holds a text. */
function findProcesses(text: string): number[] {
  return readdirSync("/proc")
    .filter((pid) => /^\d+$/.test(pid) && Number(pid) !== process.pid)
    .filter((pid) => read(`/proc/${pid}/cmdline`).includes(text))
    .filter((pid) => {
      const isOurs =
        read(`/proc/${pid}/environ`).includes(instance.dir) || read(`/proc/${pid}/cmdline`).includes(instance.dir);
      return isOurs || read(`/proc/${pid}/cmdline`).includes(String(PORTS));
    })
    .map(Number);
}

const postmaster = (folder: string): number[] => {
  const [pid] = read(join(folder, "postmaster.pid")).split("\n");
  return pid === undefined || pid === "" ? [] : [Number(pid)];
};

async function main(): Promise<void> {
  let supervisor = startSupervisor();
  const opened = await until(() => readLock(instance)?.database !== undefined && readLock(instance)?.database !== null);
  if (!opened) throw new Error("It did not start");
  const { database, appUrl } = readLock(instance)!;
  const address = {
    ...database!,
    password: readSecrets(instance).databasePassword,
    sslMode: "disable" as const,
    sslRootCert: null,
  };
  const ports = { app: Number(new URL(appUrl!).port), exhibit: PORTS + 1, standIn: null };
  const call = await signIn(appUrl!, describeEnvironment(address, ports, { instance }));
  const runId = await startRun(call);
  const back: Partial<Record<Part | "sleep", number[]>> = {};
  const pids: Record<Part, () => number[]> = {
    server: () => findProcesses(PROGRAMS.server),
    recorder: () => findProcesses(PROGRAMS.renderWorker),
    "stand-in": () => findProcesses(PROGRAMS.standIn),
    PostgreSQL: () => postmaster(join(instance.dir, "postgres")),
    supervisor: () => [supervisor.pid!],
  };
  const startAgain = () => {
    supervisor = startSupervisor();
  };
  const kills = await killInTurn({ call, pids, back, startAgain });
  const isFinished = await until(async () => {
    const { counts } = await call<{ counts: Record<string, number> }>("GET", `/api/runs/${runId}`);
    return counts["queued"]! + counts["running"]! + counts["waiting"]! === 0;
  });
  const counted = await countAll(address, runId);
  supervisor.kill("SIGTERM");
  await new Promise((resolve) => supervisor.once("exit", resolve));
  if (existsSync(database!.host)) rmSync(database!.host, { recursive: true, force: true });
  rmSync(instance.dir, { recursive: true, force: true });
  console.log(
    JSON.stringify({
      bench: "faults",
      cpus: cpus().length,
      cells: CELLS,
      kills,
      ...counted,
      mostInFlight: ENTRANTS * CONCURRENCY,
      isFinished,
      secondsUntilBack: back,
    }),
  );
}

interface Killing {
  call: Call;
  pids: Record<Part, () => number[]>;
  /** Seconds until all was well again, by what was killed. */
  back: Partial<Record<Part | "sleep", number[]>>;
  startAgain: () => void;
}

/** Kills one part after the other, and waits until all is well again. @returns how many were killed. */
async function killInTurn({ call, pids, back, startAgain }: Killing): Promise<number> {
  const note = async (what: Part | "sleep", since: number) => {
    const isBack = await until(() => isWell(call));
    const seconds = isBack ? Math.round((performance.now() - since) / 100) / 10 : Number.POSITIVE_INFINITY;
    (back[what] ??= []).push(seconds);
  };
  let kills = 0;
  for (; kills < KILLS; kills++) {
    const part = PARTS[kills % PARTS.length]!;
    await sleep(1500 + Math.random() * 2000);
    for (const pid of pids[part]()) process.kill(pid, "SIGKILL");
    const since = performance.now();
    if (part === "supervisor") {
      // The machine's own service manager, or a person, starts it again; everything else is its to do.
      await sleep(1000);
      startAgain();
    }
    await sleep(100);
    await note(part, since);
    if (kills === Math.floor(KILLS / 2)) await note("sleep", await sleepThrough());
  }
  return kills;
}

/** What became of the cells, by the database. */
async function countAll(address: DatabaseAddress, runId: string) {
  const client = new pg.Client(toClientConfig(await resolveConnection(address)));
  await client.connect();
  const one = async (sql: string) => Number((await client.query<{ n: string }>(sql, [runId])).rows[0]!.n);
  const answered = await one("SELECT count(*) AS n FROM generations WHERE run_id = $1 AND state = 'answered'");
  const requests = await one(
    "SELECT count(*) AS n FROM attempts a JOIN generations g ON g.id = a.generation_id WHERE g.run_id = $1",
  );
  const doubled = await one(
    "SELECT count(*) AS n FROM (SELECT FROM entries e JOIN generations g ON g.id = e.generation_id WHERE g.run_id = $1 GROUP BY e.generation_id HAVING count(*) > 1) d",
  );
  const stuck = await one(
    "SELECT count(*) AS n FROM generations WHERE run_id = $1 AND state NOT IN ('answered', 'failed')",
  );
  const withoutEntry = await one(
    "SELECT count(*) AS n FROM generations g WHERE g.run_id = $1 AND g.state = 'answered' AND NOT EXISTS (SELECT FROM entries e WHERE e.generation_id = g.id)",
  );
  await client.end();
  return { lost: CELLS - answered, stuck, withoutEntry, doubled, repeats: requests - answered };
}

async function until(holds: () => boolean | Promise<boolean>): Promise<boolean> {
  const end = performance.now() + LONGEST_MS;
  while (performance.now() < end) {
    if (await Promise.resolve(holds()).catch(() => false)) return true;
    await sleep(100);
  }
  return false;
}

type Call = Awaited<ReturnType<typeof signIn>>;

/** Whether it answers, its recorder is heard of, and its endpoint is there. */
async function isWell(call: Call): Promise<boolean> {
  const { recorders } = await call.once<{ recorders: number }>("GET", "/api/health");
  const models = await fetch(`http://localhost:${PORTS + 2}/v1/models`);
  return recorders > 0 && findProcesses(PROGRAMS.renderWorker).length > 0 && models.ok;
}

/** Stops every process for a while, as a machine that sleeps does. @returns when it woke. */
async function sleepThrough(): Promise<number> {
  const all = [
    ...findProcesses(PROGRAMS.server),
    ...findProcesses(PROGRAMS.renderWorker),
    ...findProcesses(PROGRAMS.standIn),
    ...findProcesses("postgres"),
  ];
  for (const pid of all) process.kill(pid, "SIGSTOP");
  await sleep(SLEEP_MS);
  for (const pid of all) process.kill(pid, "SIGCONT");
  return performance.now();
}

async function signIn(origin: string, env: NodeJS.ProcessEnv) {
  const { stdout } = await promisify(execFile)(process.execPath, [PROGRAMS.admin, "sign-in"], { env });
  let cookie = "";
  const once = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const response = await fetch(origin + path, {
      method,
      headers: { "Content-Type": "application/json", Cookie: cookie },
      signal: AbortSignal.timeout(10_000),
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    cookie = response.headers.getSetCookie()[0]?.split(";")[0] ?? cookie;
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  await once("POST", "/api/session", { token: stdout.trim().split("/").at(-1) });
  return Object.assign(once, { once });
}

async function startRun(call: Call): Promise<string> {
  const prompts = Array.from(
    { length: CELLS / ENTRANTS },
    (_, i) =>
      `  - { key: p${i}, title: Prompt ${i}, kind: game, summary: Play., text: "Build a small page about Lock Keeper, number ${i}.", motion: true, watchpoints: [It works] }`,
  );
  const yaml = ["format: tourney-suite/1", "key: faults", "title: Faults", "prompts:", ...prompts].join("\n");
  const { edition } = await call<{ edition: { id: string; prompts: { id: string }[] } }>("POST", "/api/suites/import", {
    yaml,
  });
  const entrants = Array.from(
    { length: ENTRANTS },
    (_, i) =>
      `  - { key: e${i}, name: E ${i}, model: samphire-3, endpoint: { protocol: chat-completions, baseUrl: "http://localhost:${PORTS + 2}/v1", concurrency: ${CONCURRENCY} } }`,
  );
  const imported = await call<{ entrants: { id: string }[] }>("POST", "/api/entrants/import", {
    yaml: ["format: tourney-entrants/1", "entrants:", ...entrants].join("\n"),
  });
  const { id } = await call<{ id: string }>("POST", "/api/runs", {
    editionId: edition.id,
    promptIds: edition.prompts.map((prompt) => prompt.id),
    entrantIds: imported.entrants.map((entrant) => entrant.id),
  });
  return id;
}

await (process.argv.includes("--supervise") ? supervise() : main());
if (!process.argv.includes("--supervise")) process.exit();
