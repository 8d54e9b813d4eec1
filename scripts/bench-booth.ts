import type { ChildProcess } from "node:child_process";
import { setTimeout as sleep } from "node:timers/promises";
import { chromium } from "@playwright/test";
import { createRandom } from "@tourney/core/random";
import type pg from "pg";
import { castNext, compareBallots, noOutcome, type Queue, type Seat } from "./bench-voters.js";
import { flag, openScene, type Scene } from "./booth-scene.js";

/**
 * Measures the booth on this machine with the real server, a real PostgreSQL that writes to disk, and a real browser, and prints one
 * JSON line: how long the next bout takes with 50 voters at once; what becomes of 300 ballots a second for a minute while the
 * server is killed in the middle; and when both stages of the next bout are there after a ballot. `--seconds N` shortens the minute.
 */
const SECONDS = flag("seconds", 60);
const RATE = flag("rate", 300);
const VOTERS = 50;
const PROMPTS = 12;
const ENTRANTS = 8;
const QUOTA = 1000;
/** So many voters that some are free to vote while the others wait for the server to be started again. */
const SEATS = 1650;
const SEATS_A_MINUTE = 550;

const percentile = (values: readonly number[], share: number): number =>
  Math.round(values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))]! * 10) /
  10;

async function enter({ panelToken, newVoter }: Scene): Promise<Seat> {
  const voter = newVoter();
  await voter.call("POST", `/api/booth/${panelToken}/voters`, {});
  const { body } = await voter.call("GET", `/api/booth/${panelToken}/bouts`);
  return { voter, queue: body as Queue };
}

/** Voters who vote as people do, only faster: each waits a moment, casts, and gets the next bouts with the receipt. */
async function measureNextBout(scene: Scene): Promise<Record<string, number>> {
  const random = createRandom(1);
  const times: number[] = [];
  await Promise.all(
    Array.from({ length: VOTERS }, async () => {
      const { voter, ...first } = await enter(scene);
      let { queue } = first;
      for (let i = 0; i < 20 && queue.bouts[0]; i++) {
        await sleep(500 + random() * 1000);
        const startedAt = performance.now();
        const { body } = await voter.call("POST", `/api/booth/bouts/${queue.bouts[0].token}/ballot`, {
          lean: Math.floor(random() * 5) - 2,
          dwellMs: 3000,
        });
        times.push(performance.now() - startedAt);
        ({ queue } = body as { queue: Queue });
      }
    }),
  );
  return { nextBoutP50Ms: percentile(times, 0.5), nextBoutP95Ms: percentile(times, 0.95), nextBouts: times.length };
}

async function readNumber(pool: pg.Pool, sql: string): Promise<number> {
  const { rows } = await pool.query<{ n: number }>(sql);
  return rows[0]!.n;
}

/** As many ballots a second as asked for, whether or not the server keeps up; it is killed in the middle and started again. */
async function measureLoad(scene: Scene): Promise<Record<string, number>> {
  const { pool, server, startServer } = scene;
  const random = createRandom(2);
  const idle: Seat[] = [];
  for (let round = 0; round < SEATS / SEATS_A_MINUTE; round++) {
    // One address may make so many voters a minute and no more.
    await sleep(61_000);
    for (let i = 0; i < SEATS_A_MINUTE; i += 50)
      idle.push(...(await Promise.all(Array.from({ length: 50 }, () => enter(scene)))));
  }
  const before = await readNumber(pool, "SELECT count(*)::int AS n FROM ballots");
  const record = noOutcome();
  const running = new Set<Promise<void>>();
  let [sent, noSeat] = [0, 0];
  let again: Promise<ChildProcess> | null = null;
  const startedAt = performance.now();
  while (performance.now() - startedAt < SECONDS * 1000) {
    const due = Math.floor(((performance.now() - startedAt) / 1000) * RATE);
    while (sent + noSeat < due) {
      const seat = idle.shift();
      if (!seat?.queue.bouts[0]) {
        noSeat++;
        continue;
      }
      sent++;
      const one = castNext(seat, { lean: Math.floor(random() * 5) - 2, record }).then(() => void idle.push(seat));
      running.add(one);
      void one.finally(() => running.delete(one));
    }
    if (again === null && performance.now() - startedAt > SECONDS * 500) {
      server.removeAllListeners("exit");
      server.kill("SIGKILL");
      again = startServer();
    }
    await sleep(5);
  }
  await Promise.all(running);
  const seconds = (performance.now() - startedAt) / 1000;
  const restarted = await again;
  restarted?.removeAllListeners("exit");
  restarted?.kill();
  const { acknowledged, tried, times, retried } = record;
  const { lost, doubled } = await compareBallots(pool, record);
  const total = (await readNumber(pool, "SELECT count(*)::int AS n FROM ballots")) - before;
  return {
    ballots: acknowledged.size,
    ballotsPerSecond: Math.round(acknowledged.size / seconds),
    noSeat,
    retried,
    lost,
    doubled: doubled + Math.max(0, total - tried.size),
    castP50Ms: percentile(times, 0.5),
    castP95Ms: percentile(times, 0.95),
  };
}

/** In a real browser: from Enter to both stages of the next bout being there. */
async function measureStages({ panelUrl }: Scene): Promise<Record<string, number>> {
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(panelUrl);
  await page.getByRole("button", { name: "Begin" }).click();
  await page.getByRole("button", { name: "Start voting" }).click();
  const times: number[] = [];
  for (let done = 0; done < 12; done++) {
    await page.waitForTimeout(2000);
    await page.keyboard.press("2");
    // As text: what runs these scripts puts helpers into functions that a page does not know.
    await page.evaluate(`globalThis.took = new Promise((resolve) => {
      addEventListener("keydown", ({ timeStamp }) => {
        const look = (now) => {
          const text = document.querySelector("main:not([inert])")?.innerText ?? "";
          if (text.includes("${done + 1} of") && !text.includes("Getting both ready")) resolve(now - timeStamp);
          else requestAnimationFrame(look);
        };
        requestAnimationFrame(look);
      }, { once: true, capture: true });
    }); 0`);
    await page.keyboard.press("Enter");
    times.push(await page.evaluate("globalThis.took"));
  }
  await browser.close();
  return { stagesP50Ms: percentile(times, 0.5), stagesMostMs: percentile(times, 1) };
}

const scene = await openScene({
  name: "bench",
  prompts: PROMPTS,
  entrants: ENTRANTS,
  quota: QUOTA,
  answer: (promptKey, n) =>
    `<!doctype html><html><body><h1>${promptKey}, look ${n}</h1><canvas width="600" height="400"></canvas><script>${"/* drawing */".repeat(800)}</script></body></html>`,
});
try {
  const stages = await measureStages(scene);
  const next = await measureNextBout(scene);
  const load = SECONDS > 0 ? await measureLoad(scene) : {};
  await scene.pool.end();
  console.log(JSON.stringify({ voters: VOTERS, ...next, ...stages, ...load }));
} finally {
  scene.server.removeAllListeners("exit");
  scene.server.kill();
  await scene.end();
}
process.exit();
