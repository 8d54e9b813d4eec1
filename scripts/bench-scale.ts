import { cpus } from "node:os";
import { setTimeout as sleep } from "node:timers/promises";
import { createRandom } from "@tourney/core/random";
import { type Browser, chromium } from "@playwright/test";
import * as z from "zod";
import { flag, type Voter } from "./booth-scene.js";
import { type FilledScene, openFilled } from "./filled-scene.js";
import { round } from "./figures.js";
import { measureCalls } from "./scale-calls.js";
import { readMemory, readSeconds, signalCounting, untilIdle } from "./server-processes.js";

/**
 * Fills a server and measures what each screen asks for, once and some times again, after a ballot each time, on this machine: milliseconds of processor of server and PostgreSQL together, kB of the
 * answer; the first paint and the first contents of each screen in Chromium; the next bout with 50 voters; how soon standings have a ballot, and what keeping up costs; memory.
 * Prints one JSON line for each size, and one for the growth between them.
 *
 *   npm run bench:scale [-- --entries 15000 --ballots 200000 --voters 200] [--steps small,full,large] [--kept] [--calls|--rest]
 *
 * `small` is a tenth of all, `full` what was said, `large` ten times the ballots. `--kept` takes folders that `npm run fill` left; `--calls` measures the calls
 * alone, `--rest` all but them.
 */
const full = { entries: flag("entries", 15_000), ballots: flag("ballots", 200_000), voters: flag("voters", 200) };
const SIZES = {
  small: { ...full, entries: full.entries / 10, ballots: full.ballots / 10 },
  full,
  large: { ...full, ballots: full.ballots * 10 },
};
const stepsAt = process.argv.indexOf("--steps");
const steps = z
  .array(z.enum(["small", "full", "large"]))
  .parse(stepsAt === -1 ? ["small", "full", "large"] : process.argv[stepsAt + 1]!.split(","));
const onlyCalls = process.argv.includes("--calls");
const withoutCalls = process.argv.includes("--rest");

const VOTERS = 50;
const BOUTS_EACH = 12;
/** How long a voter looks at a bout, as each ballot says; and in a hurry. */
const LOOKS_MS = 3000;
const HURRIED_MS = 1000;

const percentile = (values: readonly number[], share: number): number =>
  round(values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))]!, 1);

interface Seat {
  voter: Voter;
  tokens: string[];
}
const Queue = z.object({ bouts: z.array(z.object({ token: z.string() })) });
const Receipt = z.object({ queue: Queue });

async function enter({ panelToken, newVoter }: FilledScene): Promise<Seat> {
  const voter = newVoter();
  await voter.call("POST", `/api/booth/${panelToken}/voters`, {});
  const { body } = await voter.call("GET", `/api/booth/${panelToken}/bouts`);
  return { voter, tokens: Queue.parse(body).bouts.map(({ token }) => token) };
}

async function vote(seat: Seat, lean: number): Promise<number> {
  const startedAt = performance.now();
  const sent = await seat.voter.call("POST", `/api/booth/bouts/${seat.tokens[0]!}/ballot`, { lean, dwellMs: LOOKS_MS });
  const tookMs = performance.now() - startedAt;
  if (sent.status >= 300) throw new Error(`${sent.status}: ${JSON.stringify(sent.body)}`);
  seat.tokens = Receipt.parse(sent.body).queue.bouts.map(({ token }) => token);
  return tookMs;
}

const spreadOf = (times: readonly number[]) =>
  times.length === 0
    ? null
    : { p50: percentile(times, 0.5), p95: percentile(times, 0.95), p99: percentile(times, 0.99) };

/** How long some voters wait for their next bouts, each of whom looks at each bout for about so long. */
async function measurePace(seats: readonly Seat[], looksMs: number) {
  const random = createRandom(1);
  const waits: number[] = [];
  let votersThatFailed = 0;
  const voting = seats.map(async (seat) => {
    try {
      for (let i = 0; i < BOUTS_EACH; i++) {
        await sleep(looksMs * (0.5 + random()));
        waits.push(await vote(seat, Math.floor(random() * 5) - 2));
      }
    } catch (error) {
      console.error(new Date().toISOString(), error);
      votersThatFailed++;
    }
  });
  await Promise.all(voting);
  return { ...spreadOf(waits), bouts: waits.length, votersThatFailed };
}

/** Fifty voters enter at once, and then vote: in a hurry first, while the server's code is compiled; then as long as one looks at a bout; then in a hurry again. */
async function measureNextBout(scene: FilledScene) {
  const first: number[] = [];
  const entering = Array.from({ length: VOTERS }, async () => {
    const startedAt = performance.now();
    const seat = await enter(scene);
    first.push(performance.now() - startedAt);
    return seat;
  });
  const settled = await Promise.allSettled(entering);
  const seats = settled.flatMap((one) => (one.status === "fulfilled" ? [one.value] : []));
  return {
    firstBoutMs: { ...spreadOf(first), votersThatFailed: VOTERS - seats.length },
    earlyBoutMs: await measurePace(seats, HURRIED_MS),
    nextBoutMs: await measurePace(seats, LOOKS_MS),
    hurriedBoutMs: await measurePace(seats, HURRIED_MS),
  };
}

const VOTING_SECONDS = 20;

/** The share of one core that is used while there is a ballot every second. */
async function measureShare(scene: FilledScene, seat: Seat): Promise<number> {
  const [before, startedAt] = [readSeconds(scene), performance.now()];
  for (let i = 0; i < VOTING_SECONDS; i++) {
    await vote(seat, 0);
    await sleep(1000);
  }
  return (readSeconds(scene) - before) / ((performance.now() - startedAt) / 1000);
}

/** The same of the voting by itself: meanwhile the process that counts is stopped, so that standings are not brought up to date. */
async function measureVoting(scene: FilledScene, seat: Seat): Promise<number> {
  await untilIdle(scene);
  signalCounting(scene, "SIGSTOP");
  try {
    return await measureShare(scene, seat);
  } finally {
    signalCounting(scene, "SIGCONT");
  }
}

/** How soon standings have a ballot, and what it costs to keep those that are open so while there is one every second, beside the voting itself. */
async function measureFreshness(scene: FilledScene, seat: Seat) {
  const read = async () =>
    (await scene.api<{ ballots: number }>("GET", `/api/editions/${scene.editionId}/standings`)).ballots;
  const waits: number[] = [];
  for (let i = 0; i < 5; i++) {
    const before = await read();
    await vote(seat, -1);
    const at = performance.now();
    while ((await read()) <= before && performance.now() - at < 30_000) await sleep(100);
    waits.push(performance.now() - at);
    await untilIdle(scene);
  }
  const voting = await measureVoting(scene, seat);
  const stop = new AbortController();
  const page = fetch(`${scene.api.origin}/api/events?standings=${scene.editionId}`, {
    headers: { Cookie: scene.api.cookie() },
    signal: stop.signal,
  })
    .then(async ({ body }) => {
      const reader = body!.getReader();
      while (!(await reader.read()).done);
    })
    .catch(() => undefined);
  await untilIdle(scene);
  const all = await measureShare(scene, seat);
  stop.abort();
  await page;
  return {
    standingsFreshMs: round(Math.max(...waits)),
    shareOfOneCore: { all: round(all, 3), voting: round(voting, 3), refresh: round(all - voting, 3) },
  };
}

const SCREENS = ["/suites", "/entrants", "/runs", "/wall", "/compare", "/voting", "/standings"];

async function measureScreens(browser: Browser, scene: FilledScene) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [cookie, value] = scene.api.cookie().split("=") as [string, string];
  await context.addCookies([{ name: cookie, value, url: scene.api.origin }]);
  const measured: Record<string, { firstPaintMs: number; contentsMs: number }> = {};
  for (const path of SCREENS) {
    const page = await context.newPage();
    const startedAt = performance.now();
    await page.goto(scene.api.origin + path, { waitUntil: "commit" });
    await page
      .locator("main h1")
      .first()
      .waitFor({ timeout: 60_000 })
      .catch(() => undefined);
    await page
      .waitForFunction(
        () => document.querySelectorAll("main [aria-busy=true], main [role=status][aria-busy=true]").length === 0,
        null,
        { timeout: 60_000 },
      )
      .catch(() => undefined);
    const contentsMs = performance.now() - startedAt;
    const firstPaintMs = await page.evaluate(
      () => performance.getEntriesByName("first-contentful-paint")[0]?.startTime ?? Number.NaN,
    );
    measured[path] = { firstPaintMs: round(firstPaintMs), contentsMs: round(contentsMs) };
    await page.close();
    await untilIdle(scene);
  }
  await context.close();
  return measured;
}

/** What the server reads ahead after a start, once nobody has asked for anything for two seconds, is read before anything is timed: the machine is otherwise idle. */
async function untilReadAhead(scene: FilledScene): Promise<void> {
  await scene.api("GET", `/api/editions/${scene.editionId}/standings`);
  await sleep(2500);
  await untilIdle(scene);
}

/** The process that makes reports has ended by then when nobody asks for one. */
const REPORTS_END_MS = 50_000;

async function measure(name: keyof typeof SIZES) {
  const size = SIZES[name];
  const isKept = process.argv.includes("--kept");
  const folder = isKept ? `filled-${size.entries}-${size.ballots}-${size.voters}` : `scale-${process.pid}`;
  const startedAt = performance.now();
  const scene = await openFilled(folder, size, { isKept });
  const fillSeconds = round((performance.now() - startedAt) / 1000);
  try {
    const seat = await enter(scene);
    await untilReadAhead(scene);
    const calls = withoutCalls ? {} : await measureCalls(scene, () => vote(seat, 1));
    const loaded = onlyCalls
      ? {}
      : {
          ...(await measureNextBout(scene)),
          ...(await measureFreshness(scene, seat)),
          screens: await withBrowser((browser) => measureScreens(browser, scene)),
        };
    const [database] = await scene.db.select(
      z.object({ mb: z.coerce.number() }),
      "SELECT pg_database_size(current_database()) / 1000000 AS mb",
    );
    const busy = readMemory(scene);
    await sleep(REPORTS_END_MS);
    const rest = readMemory(scene);
    const memory = { ...busy, serverMbAtRest: rest.serverMb, serverMbAtRestSharedOnce: rest.serverMbSharedOnce };
    return { ...size, fillSeconds, calls, ...loaded, ...memory, databaseMb: database!.mb };
  } finally {
    await scene.end();
  }
}

async function withBrowser<T>(use: (browser: Browser) => Promise<T>): Promise<T> {
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", "--disable-quic", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
  try {
    return await use(browser);
  } finally {
    await browser.close();
  }
}

const measured = new Map<string, Awaited<ReturnType<typeof measure>>>();
for (const name of steps) {
  const result = await measure(name);
  measured.set(name, result);
  console.log(JSON.stringify({ bench: "scale", step: name, cpus: cpus().length, ...result }));
}
const [before, after] = [...measured.values()];
if (before !== undefined && after !== undefined) {
  const growth = Object.entries(after.calls).map(([name, { again }]) => [
    name,
    round(again.cpuMs / Math.max(1, before.calls[name]!.again.cpuMs), 1),
  ]);
  const cpu = Object.fromEntries(growth) as Record<string, number>;
  console.log(JSON.stringify({ bench: "scale-growth", from: steps[0], to: steps[1], cpu }));
}
process.exit(0);
