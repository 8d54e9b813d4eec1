import { type ChildProcess, execFile, spawn, spawnSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync, rmSync, statfsSync, statSync } from "node:fs";
import { Agent } from "node:http";
import { cpus } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { promisify } from "node:util";
import { createRandom } from "@tourney/core/random";
import { type DatabaseAddress, resolveConnection, toClientConfig } from "@tourney/store";
import pg from "pg";
import { openInstance, readLock, readSecrets } from "../packages/cli/src/instance.js";
import { PROGRAMS } from "../packages/cli/src/paths.js";
import { describeEnvironment, startStack } from "../packages/cli/src/supervisor.js";
import { castNext, compareBallots, insist, noOutcome, type Outcome, type Queue, type Seat } from "./bench-voters.js";
import { flag, Voter } from "./booth-scene.js";

/**
 * What becomes of a run of 600 cells, and of the ballots of 50 voters, while each part of a whole Tourney is killed in turn: the server, the
 * recorder, the stand-in endpoint, PostgreSQL and the supervisor; while all of them are stopped for 45 s once, as when a laptop sleeps; and
 * while the disk is full once (a disk of its own, which only root can make: otherwise the line says that it was not tried). Prints one JSON
 * line. `--kills N` shortens it, `--cells N` and `--voters N` make it smaller.
 */
const KILLS = flag("kills", 30);
const CELLS = flag("cells", 600);
const ENTRANTS = 10;
const CONCURRENCY = 4;
const VOTERS = flag("voters", 50);
const SLEEP_MS = 45_000;
const DISK_BYTES = 4_000_000_000;
const FULL_MS = 20_000;
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
    environment: { TOURNEY_SHELF_INTAKE: "off", TOURNEY_LOG_LEVEL: "warn", TOURNEY_JOINS_PER_ADDRESS: "1000" },
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

/** A disk of its own for the instance, which can be filled without harm to anybody. @returns false where it cannot be made */
function makeDisk(): boolean {
  spawnSync("umount", [instance.dir]);
  const made = spawnSync("mount", ["-t", "tmpfs", "-o", `size=${DISK_BYTES},mode=0711`, "tourney", instance.dir]);
  return made.status === 0;
}

/** Leaves no byte on the instance's disk for a while. @returns when there was room again */
async function fillDisk(): Promise<number> {
  const ballast = join(instance.dir, "ballast");
  const fillUp = () => {
    const { bavail, bsize } = statfsSync(instance.dir);
    const size = (existsSync(ballast) ? statSync(ballast).size : 0) + bavail * bsize;
    spawnSync("fallocate", ["-l", String(size), ballast]);
  };
  for (const end = performance.now() + FULL_MS; performance.now() < end;) {
    fillUp();
    await sleep(200);
  }
  rmSync(ballast);
  return performance.now();
}

async function main(): Promise<void> {
  const hasDisk = makeDisk();
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
  const voting = await openVoting(call, runId);
  const back: Back = {};
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
  const kills = await killInTurn({ call, pids, back, startAgain, hasDisk });
  const ballots = await voting.close();
  const isFinished = await until(async () => {
    const { counts } = await call<{ counts: Record<string, number> }>("GET", `/api/runs/${runId}`);
    return counts["queued"]! + counts["running"]! + counts["waiting"]! === 0;
  });
  const counted = await countAll(address, { runId, ballots });
  supervisor.kill("SIGTERM");
  await new Promise((resolve) => supervisor.once("exit", resolve));
  if (hasDisk) spawnSync("umount", [instance.dir]);
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
      voters: VOTERS,
      fullDisk: hasDisk ? "tried" : "not tried: no disk of its own could be made",
      secondsUntilBack: back,
    }),
  );
}

/** Seconds until all was well again, by what was killed or happened. */
type Back = Partial<Record<Part | "sleep" | "full disk", number[]>>;

interface Killing {
  call: Call;
  pids: Record<Part, () => number[]>;
  back: Back;
  startAgain: () => void;
  hasDisk: boolean;
}

/** Kills one part after the other, and waits until all is well again. @returns how many were killed. */
async function killInTurn({ call, pids, back, startAgain, hasDisk }: Killing): Promise<number> {
  const note = async (what: keyof Back, since: number) => {
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
    if (hasDisk && kills === Math.floor((KILLS * 3) / 4)) await note("full disk", await fillDisk());
  }
  return kills;
}

/** What became of the cells and of the ballots, by the database. */
async function countAll(address: DatabaseAddress, { runId, ballots }: { runId: string; ballots: Outcome }) {
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
  const compared = await compareBallots(client, ballots);
  await client.end();
  return {
    lost: CELLS - answered,
    stuck,
    withoutEntry,
    doubled,
    repeats: requests - answered,
    ballots: ballots.acknowledged.size,
    ballotsSentAgain: ballots.retried,
    ballotsLost: compared.lost,
    ballotsDoubled: compared.doubled,
  };
}

/** Voters who join when there is something to vote on, and vote until they are told to stop, whatever happens meanwhile. */
async function openVoting(call: Call, runId: string): Promise<{ close: () => Promise<Outcome> }> {
  const { editionId } = await call<{ editionId: string }>("GET", `/api/runs/${runId}`);
  const panel = await call<{ url: string }>("POST", "/api/panels", { editionId, title: "Faults", quota: 1000 });
  const panelToken = panel.url.split("/").at(-1)!;
  const agent = new Agent({ keepAlive: true, maxSockets: 64 });
  const record = noOutcome();
  let isClosing = false;
  const isOpen = () => !isClosing;
  const vote = async (n: number): Promise<void> => {
    const random = createRandom(n);
    const voter = new Voter(PORTS, agent);
    const ask = (method: "GET" | "POST", path: string, body?: object) =>
      insist(() => voter.call(method, path, body), { limitMs: LONGEST_MS });
    await ask("POST", `/api/booth/${panelToken}/voters`, {});
    while (isOpen()) {
      const seat: Seat = { voter, queue: (await ask("GET", `/api/booth/${panelToken}/bouts`)) as Queue };
      while (seat.queue.bouts[0] && isOpen()) {
        await sleep(1000 + random() * 2000);
        await castNext(seat, { lean: Math.floor(random() * 5) - 2, record, limitMs: LONGEST_MS });
      }
      await sleep(2000);
    }
  };
  const voters = Promise.all(Array.from({ length: VOTERS }, (_, n) => vote(n)));
  // It is awaited at the end; until then it is not to end everything.
  voters.catch(() => undefined);
  return {
    close: async () => {
      isClosing = true;
      await voters;
      return record;
    },
  };
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
