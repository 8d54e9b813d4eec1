/**
 * Measures the wall of 100 prompts × 50 entrants × 3 takes with recordings, on this machine, in a real Chromium: how soon its first pictures are there, how many
 * frames a second it scrolls at (the median of three times four seconds), and what the browser holds in memory, empty and with the wall. Rows are written
 * straight into the database; pictures are made for it. Prints one JSON line.
 *
 *   npm run bench:wall [-- --prompts 100 --entrants 50 --takes 3]
 */
import { readdirSync, readFileSync, rmSync } from "node:fs";
import { cpus } from "node:os";
import { join } from "node:path";
import { type Browser, chromium, type Page } from "@playwright/test";
import pino from "pino";
import { startCluster } from "../packages/cli/src/cluster.js";
import { openInstance, readSecrets } from "../packages/cli/src/instance.js";
import { SERVER_COMMAND, STATE_DIR } from "../packages/cli/src/paths.js";
import { describeEnvironment } from "../packages/cli/src/supervisor.js";
import { createFolderBlobStore } from "@tourney/store";
import { connectDatabase } from "../packages/server/src/db/connection.js";
import { fillEntries } from "../packages/server/test-support/fill.js";
import { type Api, freePort, prepare, signIn, startProgram } from "./bench-server.js";
import { flag } from "./booth-scene.js";
import { makePictures } from "./make-pictures.js";

const size = { prompts: flag("prompts", 100), entrants: flag("entrants", 50), takes: flag("takes", 3) };
const SCROLL_MS = 4000;

const name = `bench-wall-${process.pid}`;
const instance = openInstance(name);
const closing: (() => unknown)[] = [];

async function main(): Promise<void> {
  const { databasePassword } = readSecrets(instance);
  const cluster = await startCluster(instance, { password: databasePassword, isThrowaway: true });
  closing.push(cluster.stop);
  const ports = { app: await freePort(), exhibit: await freePort(), standIn: await freePort() };
  const environment = { ...describeEnvironment(cluster.address, ports, { instance }), TOURNEY_LOG_LEVEL: "warn" };
  const server = await startProgram([...SERVER_COMMAND], environment, join(instance.logDir, "bench.log"));
  closing.push(() => server.kill("SIGKILL"));
  const api = await signIn(`http://localhost:${ports.app}`, environment);
  // Nobody listens there, and the run is cancelled at once: its rows are what is wanted.
  const entered = await prepare(api, "large", { ...size, concurrency: 1 }, "http://127.0.0.1:9/v1");
  const run = await api<{ id: string }>("POST", "/api/runs", { ...entered, takes: size.takes });
  await api("POST", `/api/runs/${run.id}/cancel`);
  const db = await connectDatabase({ ...cluster.address, ssl: false }, pino({ level: "silent" }));
  const blobs = createFolderBlobStore(join(instance.dataDir, "blobs"));
  await fillEntries(db, { blobs, pictures: await makePictures(blobs) });
  await db.close();
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", "--disable-quic", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
  closing.push(() => browser.close());
  const results = await measureWall(browser, api);
  console.log(
    JSON.stringify({
      bench: "wall",
      cpus: cpus().length,
      cells: size.prompts * size.entrants * size.takes,
      ...results,
    }),
  );
}

async function measureWall(browser: Browser, api: Api) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [cookie, value] = api.cookie().split("=") as [string, string];
  await context.addCookies([{ name: cookie, value, url: api.origin }]);
  const page = await context.newPage();
  // What the browser takes before it has opened anything is told beside what it takes with the wall.
  await page.goto("about:blank");
  const emptyMb = measureMemoryMb();
  const times: number[] = [];
  for (let i = 0; i < 5; i++) {
    await page.goto(`${api.origin}/entrants`);
    await page.getByRole("heading", { level: 1 }).first().waitFor();
    await page.waitForLoadState("networkidle");
    const startedAt = performance.now();
    await page.getByRole("navigation", { name: "Steps of the job" }).getByRole("link", { name: "Wall" }).click();
    await untilPictures(page);
    times.push(performance.now() - startedAt);
  }
  const scrolls: Awaited<ReturnType<typeof scrollAbout>>[] = [];
  for (let i = 0; i < 3; i++) scrolls.push(await page.evaluate(scrollAbout, SCROLL_MS));
  return {
    firstPicturesMs: Math.round(times.toSorted((a, b) => a - b)[2]!),
    scrollFps: Math.round(scrolls.map(({ fps }) => fps).toSorted((a, b) => a - b)[1]! * 10) / 10,
    longestFrameMs: Math.round(Math.max(...scrolls.map(({ longestMs }) => longestMs))),
    browserMb: Math.round(measureMemoryMb()),
    emptyBrowserMb: Math.round(emptyMb),
  };
}

/** Until every picture in sight is there. */
const untilPictures = (page: Page) =>
  page.waitForFunction(() => {
    const inSight = [...document.querySelectorAll<HTMLImageElement>("[role=gridcell] img")].filter((image) => {
      const { top, left, bottom, right } = image.getBoundingClientRect();
      return bottom > 0 && right > 0 && top < innerHeight && left < innerWidth;
    });
    return inSight.length > 20 && inSight.every(({ complete, naturalWidth }) => complete && naturalWidth > 0);
  });

/** Scrolls the wall down and to the right and counts frames. Runs in the page. */
async function scrollAbout(forMs: number): Promise<{ fps: number; longestMs: number }> {
  const scroller = document.querySelector("[role=grid]")!.parentElement!;
  scroller.scrollTo(0, 0);
  // No function of its own in here: what compiles this names functions by a helper that the page does not have.
  const startedAt = await new Promise<number>(requestAnimationFrame);
  let [last, frames, longestMs] = [startedAt, 0, 0];
  while (last - startedAt < forMs) {
    scroller.scrollBy(6, 24);
    const now = await new Promise<number>(requestAnimationFrame);
    longestMs = Math.max(longestMs, now - last);
    frames++;
    last = now;
  }
  return { fps: (frames * 1000) / (last - startedAt), longestMs };
}

/** What the browser's processes hold, memory that they share counted once: proportional set size. */
function measureMemoryMb(): number {
  const read = (pid: string, file: string) => {
    try {
      return readFileSync(`/proc/${pid}/${file}`, "utf8");
    } catch {
      // It has ended meanwhile.
      return "";
    }
  };
  const pids = readdirSync("/proc").filter((entry) => /^\d+$/.test(entry));
  const parentOf = new Map(pids.map((pid) => [pid, /^PPid:\s+(\d+)/m.exec(read(pid, "status"))?.[1]]));
  const isOurs = (pid: string | undefined): boolean =>
    pid !== undefined && (pid === String(process.pid) || isOurs(parentOf.get(pid)));
  const own = pids.filter((pid) => read(pid, "cmdline").includes("chromium") && isOurs(pid));
  const heldKb = own.map((pid) => Number(/^Pss:\s+(\d+)/m.exec(read(pid, "smaps_rollup"))?.[1] ?? 0));
  return heldKb.reduce((sum, kb) => sum + kb, 0) / 1024;
}

try {
  await main();
} finally {
  for (const close of closing.toReversed()) await close();
  rmSync(join(STATE_DIR, name), { recursive: true, force: true });
}
process.exit(process.exitCode ?? 0);
