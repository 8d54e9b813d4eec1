import type { ChildProcess } from "node:child_process";
import { readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { chromium } from "@playwright/test";
import { startCluster } from "../packages/cli/src/cluster.js";
import { openInstance, readSecrets } from "../packages/cli/src/instance.js";
import { PROGRAMS, SERVER_COMMAND, STATE_DIR } from "../packages/cli/src/paths.js";
import { describeEnvironment } from "../packages/cli/src/supervisor.js";
import { type Api, freePort, prepare, signIn, startProgram } from "./bench-server.js";

/**
 * Measures what a run takes, on this machine, with the real server, a real PostgreSQL and the stand-in endpoint:
 * memory and pace of 200 streams at once, planning and showing 15,000 cells, and killing the server at random instants.
 * Prints one JSON line. `--kills N` shortens it; `--only planning` measures that part alone.
 */
const flag = (name: string, fallback: number) => {
  const at = process.argv.indexOf(`--${name}`);
  return at === -1 ? fallback : Number(process.argv[at + 1]);
};
const STREAMS = 200;
const KILLS = flag("kills", 50);
const CELLS_KILLED = 300;

const name = `bench-${process.pid}`;
const instance = openInstance(name);
const logPath = join(instance.logDir, "bench.log");
const closing: (() => unknown)[] = [];

async function main(): Promise<void> {
  const { databasePassword } = readSecrets(instance);
  const cluster = await startCluster(instance, { password: databasePassword, isThrowaway: true });
  closing.push(cluster.stop);
  const [app, exhibit, standIn, fast] = [await freePort(), await freePort(), await freePort(), await freePort()];
  const ports = { app, exhibit, standIn };
  const environment = {
    ...describeEnvironment(cluster.address, ports, { instance }),
    TOURNEY_GENERATIONS: "220",
    TOURNEY_LOG_LEVEL: "warn",
  };
  const startServer = () => startProgram([...SERVER_COMMAND], environment, logPath);
  for (const [port, speed] of [
    [standIn, "1"],
    [fast, "60"],
  ] as const) {
    const child = await startProgram(
      [PROGRAMS.standIn, "--port", String(port), "--no-faults", "--speed", speed],
      process.env,
      logPath,
    );
    closing.push(() => child.kill());
  }
  let server = await startServer();
  closing.push(() => server.kill("SIGKILL"));
  const api = await signIn(`http://localhost:${app}`, environment);
  const isOnlyPlanning = process.argv.includes("planning");
  const results = isOnlyPlanning
    ? await measurePlanning(api)
    : {
        ...(await measureStreams(api, server, `http://localhost:${standIn}/v1`)),
        ...(await measurePlanning(api)),
        ...(await measureKills(api, `http://localhost:${fast}/v1`, async () => {
          server.removeAllListeners("exit");
          server.kill("SIGKILL");
          await sleep(20);
          server = await startServer();
        })),
      };
  console.log(JSON.stringify({ bench: "generation", cpus: (await import("node:os")).cpus().length, ...results }));
}

interface Detail {
  id: string;
  counts: Record<string, number>;
}

const rssMb = (pid: number, field: "VmRSS" | "VmHWM") =>
  Number(new RegExp(`${field}:\\s+(\\d+)`).exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024;

/** 200 streams at the models' own pace: the server's memory, and each stream's time beside that of one alone. */
async function measureStreams(api: Api, server: ChildProcess, baseUrl: string) {
  const alone = await prepare(api, "alone", { prompts: STREAMS, entrants: 1, concurrency: STREAMS }, baseUrl);
  await runAll(api, { ...alone, promptIds: alone.promptIds.slice(0, 1) });
  const loneMs = (await timesOf(api, alone.editionId))[0]!;
  const id = (await api<Detail>("POST", "/api/runs", { ...alone, takes: 1 })).id;
  let [peak, most] = [0, 0];
  for (;;) {
    const { counts } = await api<Detail>("GET", `/api/runs/${id}`);
    most = Math.max(most, counts["running"]!);
    peak = Math.max(peak, rssMb(server.pid!, "VmRSS"));
    if (counts["queued"]! + counts["running"]! + counts["waiting"]! === 0) break;
    await sleep(500);
  }
  const times = await timesOf(api, alone.editionId);
  // Answers differ in length, so a stream is compared by its time for each token of its own.
  const slowest = Math.max(...times.map((ms) => ms / loneMs));
  const sorted = times.map((ms) => ms / loneMs).sort((a, b) => a - b);
  return {
    streams: most,
    peakRssMb: Math.round(peak),
    slowdownMedian: round(sorted[Math.floor(sorted.length / 2)]! - 1),
    slowdownWorst: round(slowest - 1),
  };
}
const round = (value: number) => Math.round(value * 1000) / 1000;

async function runAll(api: Api, request: object): Promise<void> {
  const { id } = await api<Detail>("POST", "/api/runs", { ...request, takes: 1 });
  await finished(api, id);
}

async function finished(api: Api, id: string): Promise<Detail> {
  for (;;) {
    const detail = await api<Detail>("GET", `/api/runs/${id}`);
    if (detail.counts["queued"]! + detail.counts["running"]! + detail.counts["waiting"]! === 0) return detail;
    await sleep(100);
  }
}

/** Milliseconds for each output token of every answer of a run. */
async function timesOf(api: Api, editionId: string): Promise<number[]> {
  const wall = await api<{ cells: { entryId: string | null }[] }>("GET", `/api/editions/${editionId}/wall`);
  const entries = wall.cells.flatMap(({ entryId }) => (entryId === null ? [] : [entryId]));
  const details = await Promise.all(
    entries.map((entryId) =>
      api<{ generation: { usage: { outputTokens: number }; timings: { firstTokenMs: number; totalMs: number } } }>(
        "GET",
        `/api/entries/${entryId}`,
      ),
    ),
  );
  return details.map(
    ({ generation: { usage, timings } }) => (timings.totalMs - timings.firstTokenMs) / usage.outputTokens,
  );
}

/** 100 prompts × 50 entrants × 3 takes: the plan's estimate, the run's start, and its page. */
async function measurePlanning(api: Api) {
  // Nobody listens there: planning sends nothing by itself, and the run is paused at once.
  const request = {
    ...(await prepare(api, "large", { prompts: 100, entrants: 50, concurrency: 1 }, "http://127.0.0.1:9/v1")),
    takes: 3,
  };
  const timed = async <T>(work: () => Promise<T>) => {
    const start = performance.now();
    const value = await work();
    return { value, ms: Math.round(performance.now() - start) };
  };
  const planned = await timed(() => api("POST", "/api/runs/plan", request));
  const started = await timed(() => api<Detail>("POST", "/api/runs", request));
  await api("POST", `/api/runs/${started.value.id}/cancel`);
  const shown = await timed(() => api<Detail>("GET", `/api/runs/${started.value.id}`));
  const grid = await timed(() => api("GET", `/api/editions/${request.editionId}/grid`));
  const wall = await timed(() => api("GET", `/api/editions/${request.editionId}/wall`));
  return {
    cells: shown.value.counts["total"]!,
    planMs: planned.ms,
    startMs: started.ms,
    showRunMs: shown.ms,
    gridMs: grid.ms,
    wallMs: wall.ms,
    ...(await measurePages(api)),
  };
}

/** From the click on a step to its cells on screen, in a page that is open already; the middle of five. */
async function measurePages(api: Api) {
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", "--disable-quic", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
  closing.push(() => browser.close());
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [name, value] = api.cookie().split("=") as [string, string];
  await context.addCookies([{ name, value, url: api.origin }]);
  const page = await context.newPage();
  /** Waits for as many elements: asking for one by its name would take longer than drawing them all. */
  const clickTo = async (step: string, selector: string, count: number) => {
    const times: number[] = [];
    for (let i = 0; i < 5; i++) {
      // A page of its own each time, so that nothing is remembered from the last.
      await page.goto(`${api.origin}/entrants`);
      await page.getByRole("heading", { level: 1 }).first().waitFor();
      await page.waitForLoadState("networkidle");
      const start = performance.now();
      await page.getByRole("navigation", { name: "Steps of the job" }).getByRole("link", { name: step }).click();
      await page
        .locator(selector)
        .nth(count - 1)
        .waitFor({ state: "attached" });
      times.push(performance.now() - start);
    }
    return Math.round(times.sort((a, b) => a - b)[2]!);
  };
  return {
    planShownMs: await clickTo("Runs", "td [role=img]", 10 * 50),
    wallShownMs: await clickTo("Wall", "[role=gridcell]", 1),
  };
}

/** A run of 300 cells while the server is killed with SIGKILL again and again. */
async function measureKills(api: Api, baseUrl: string, killAndStart: () => Promise<void>) {
  const request = await prepare(api, "killed", { prompts: CELLS_KILLED / 3, entrants: 3, concurrency: 8 }, baseUrl);
  const { id } = await api<Detail>("POST", "/api/runs", { ...request, takes: 1 });
  let answeredBefore = 0;
  let lost = 0;
  let kills = 0;
  for (; kills < KILLS; kills++) {
    await sleep(100 + Math.random() * 700);
    const { counts } = await api<Detail>("GET", `/api/runs/${id}`);
    if (counts["answered"]! < answeredBefore) lost += answeredBefore - counts["answered"]!;
    answeredBefore = counts["answered"]!;
    await killAndStart();
  }
  const { counts } = await finished(api, id);
  const requests = await countRequests(api, request.editionId);
  return {
    killedCells: CELLS_KILLED,
    kills,
    answersLost: lost + (counts["answered"]! < answeredBefore ? 1 : 0),
    cellsLeftBehind: counts["total"]! - counts["answered"]!,
    requestsRepeated: requests.repeated,
    mostRepeatedAtAKill: 8,
    requestsSent: requests.sent,
  };
}

async function countRequests(api: Api, editionId: string): Promise<{ sent: number; repeated: number }> {
  const wall = await api<{ cells: { entryId: string | null }[] }>("GET", `/api/editions/${editionId}/wall`);
  let [sent, repeated] = [0, 0];
  for (const { entryId } of wall.cells) {
    if (entryId === null) continue;
    const { generation } = await api<{ generation: { id: string } }>("GET", `/api/entries/${entryId}`);
    const attempts = await api<{ purpose: string }[]>("GET", `/api/generations/${generation.id}/attempts`);
    sent += attempts.length;
    repeated += attempts.filter(({ purpose }) => purpose === "repeat").length;
  }
  return { sent, repeated };
}

try {
  await main();
} finally {
  for (const close of closing.toReversed()) await close();
  rmSync(join(STATE_DIR, name), { recursive: true, force: true });
}
process.exit(process.exitCode ?? 0);
