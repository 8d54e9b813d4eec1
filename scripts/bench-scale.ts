import { cpus } from "node:os";
import { setTimeout as sleep } from "node:timers/promises";
import { createRandom } from "@tourney/core/random";
import { median } from "@tourney/core/stats";
import { type Browser, chromium } from "@playwright/test";
import * as z from "zod";
import { flag, type Voter } from "./booth-scene.js";
import { type FilledScene, openFilled } from "./filled-scene.js";
import {
  measureYardstick,
  readCountingSeconds,
  readMemory,
  readSeconds,
  signalCounting,
  untilIdle,
} from "./server-processes.js";

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

const round = (value: number, digits = 0) => Number(value.toFixed(digits));
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

/** What each screen asks for. */
const callsOf = (scene: FilledScene, entryId: string) => {
  const edition = `/api/editions/${scene.editionId}`;
  return {
    course: `/api/course?edition=${scene.editionId}`,
    ...{ editions: "/api/editions", edition, entrants: "/api/entrants", grid: `${edition}/grid` },
    ...{ wall: `${edition}/wall`, strip: `/api/entries/${entryId}/strip`, entry: `/api/entries/${entryId}` },
    ...{ comparable: `/api/entries/${entryId}/comparable`, search: `${edition}/search?words=few` },
    ...{ runs: `${edition}/runs`, redos: `${edition}/redos`, queue: `${edition}/render-queue` },
    ...{ panels: `${edition}/panels`, votingReport: `${edition}/voting-report`, ballots: `${edition}/ballots` },
    ...{ standings: `${edition}/standings`, promptRatings: `${edition}/prompt-ratings`, mending: `${edition}/mending` },
    ...{ bySeeing: `${edition}/ratings-by-seeing`, overTime: `${edition}/ratings-over-time` },
    ...{ contests: `${edition}/contests`, stopping: `${edition}/stopping`, snapshots: `${edition}/snapshots` },
    basis: `${edition}/standings-basis`,
  };
};

interface Call {
  /** Of all processes, and of the one that counts. */
  cpuMs: number;
  countingMs: number;
  wallMs: number;
  /** As it went over the wire, and as it is in the page. */
  kb: number;
  unpackedKb: number;
  status: number;
  /** Milliseconds of processor that the same piece of work took right before each call: it tells a slow minute of the machine from a slow call. */
  yardstickMs: number;
}

async function read(scene: FilledScene, path: string): Promise<{ response: Response; bytes: number }> {
  const response = await fetch(scene.api.origin + path, { headers: { Cookie: scene.api.cookie() } });
  return { response, bytes: (await response.arrayBuffer()).byteLength };
}

async function measureCall(scene: FilledScene, path: string, change: () => Promise<unknown>): Promise<Call> {
  await change();
  await untilIdle(scene);
  const yardstickMs = round(measureYardstick());
  const [before, countingBefore, startedAt] = [readSeconds(scene), readCountingSeconds(scene), performance.now()];
  const { response, bytes } = await read(scene, path);
  const wallMs = performance.now() - startedAt;
  // What it leaves to be done behind it is its own, too, however long that takes.
  await sleep(400);
  await untilIdle(scene);
  return {
    cpuMs: round((readSeconds(scene) - before) * 1000),
    countingMs: round((readCountingSeconds(scene) - countingBefore) * 1000),
    wallMs: round(wallMs),
    kb: round(Number(response.headers.get("content-length") ?? bytes) / 1000, 1),
    unpackedKb: round(bytes / 1000, 1),
    status: response.status,
    yardstickMs,
  };
}

/**
 * How many calls the medians are of. The server counts ballots every few seconds, whatever it is asked: that is told by what keeping up costs, and a call during which it
 * happens is left out, unless most are such calls.
 */
const TIMES_AGAIN = 7;
const MOST_TIMES = 18;
/** Calls made before those that count. In the first ones V8 still compiles the server's code, and PostgreSQL has not kept its plans yet: leads use a server that has run for hours. */
const TIMES_BEFORE = 12;

/** An entry of each of some prompts. */
const SOME_ENTRIES = `
  SELECT DISTINCT ON (g.wording_id) e.id FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.wording_id = g.wording_id
  WHERE q.edition_id = $1 AND g.turn = 1 ORDER BY g.wording_id, e.id LIMIT ${TIMES_BEFORE + MOST_TIMES + 1}`;

/**
 * Each call once on a server that has just been started, and again on one that has been used for a while, after a ballot each time that nobody has read yet, and of an entry of another
 * prompt each time where it is of one; the wall also after a cell has changed, as a page asks that holds it.
 */
async function measureCalls(scene: FilledScene, seat: Seat) {
  const entries = await scene.db.select(z.object({ id: z.string() }), SOME_ENTRIES, [scene.editionId]);
  const callOf = (time: number) => callsOf(scene, entries[time % entries.length]!.id);
  const measured: Record<string, Call & { again: Again }> = {};
  for (const name of Object.keys(callOf(0)) as (keyof ReturnType<typeof callsOf>)[])
    measured[name] = await measureAgain(
      scene,
      (time) => callOf(time)[name],
      () => vote(seat, 1),
    );
  const { wall } = callOf(0);
  const { cursor } = await scene.api<{ cursor: string }>("GET", wall);
  const verdicts = ["truncated", "ok"];
  measured["wallFollowed"] = await measureAgain(
    scene,
    () => `${wall}?since=${cursor}`,
    () => {
      verdicts.reverse();
      return scene.db.execute("UPDATE entries SET verdict = $2 WHERE id = $1", [entries[0]!.id, verdicts[0]]);
    },
  );
  return measured;
}

/** What calls of one kind cost: the medians, how many of them were left out, and what each of the others took of the processor. */
interface Again {
  cpuMs: number;
  wallMs: number;
  leftOut: number;
  eachCpuMs: number[];
  eachYardstickMs: number[];
}

/** A call once, and some of it again. */
async function measureAgain(scene: FilledScene, pathOf: (time: number) => string, change: () => Promise<unknown>) {
  const first = await measureCall(scene, pathOf(0), change);
  for (let time = 1; time <= TIMES_BEFORE; time++) {
    await change();
    await read(scene, pathOf(time));
  }
  const again: Call[] = [];
  // The time of a process that ended meanwhile can be missing from the second reading: such a call has no figure.
  const listAlone = () => again.filter(({ countingMs, cpuMs }) => countingMs === 0 && cpuMs >= 0);
  while (listAlone().length < TIMES_AGAIN && again.length < MOST_TIMES)
    again.push(await measureCall(scene, pathOf(TIMES_BEFORE + again.length + 1), change));
  const alone = listAlone().length < TIMES_AGAIN ? again : listAlone();
  return {
    ...first,
    again: {
      cpuMs: median(alone.map(({ cpuMs }) => cpuMs))!,
      wallMs: median(alone.map(({ wallMs }) => wallMs))!,
      leftOut: again.length - alone.length,
      eachCpuMs: alone.map(({ cpuMs }) => cpuMs),
      eachYardstickMs: alone.map(({ yardstickMs }) => yardstickMs),
    },
  };
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
    const calls = withoutCalls ? {} : await measureCalls(scene, seat);
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
  const growth = Object.entries(after.calls).map(([name, { cpuMs }]) => [
    name,
    round(cpuMs / Math.max(1, before.calls[name]!.cpuMs), 1),
  ]);
  const cpu = Object.fromEntries(growth) as Record<string, number>;
  console.log(JSON.stringify({ bench: "scale-growth", from: steps[0], to: steps[1], cpu }));
}
process.exit(0);
