import { setTimeout as sleep } from "node:timers/promises";
import { median } from "@tourney/core/stats";
import * as z from "zod";
import type { FilledScene } from "./filled-scene.js";
import { round } from "./figures.js";
import { measureYardstick, readCountingSeconds, readSeconds, untilIdle } from "./server-processes.js";

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
  await untilIdle(scene, 400);
  return {
    cpuMs: round((readSeconds(scene) - before) * 1000, 1),
    countingMs: round((readCountingSeconds(scene) - countingBefore) * 1000, 1),
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
const TIMES_AGAIN = 11;
const MOST_TIMES = 20;
/** What the process that counts uses at most in a second in which it counts nothing, in milliseconds. */
const COUNTS_MS = 1;
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
export async function measureCalls(scene: FilledScene, castBallot: () => Promise<unknown>) {
  const entries = await scene.db.select(z.object({ id: z.string() }), SOME_ENTRIES, [scene.editionId]);
  const callOf = (time: number) => callsOf(scene, entries[time % entries.length]!.id);
  const measured: Record<string, Call & { again: Again }> = {};
  for (const name of Object.keys(callOf(0)) as (keyof ReturnType<typeof callsOf>)[])
    measured[name] = await measureAgain(scene, (time) => callOf(time)[name], castBallot);
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
  const listAlone = () => again.filter(({ countingMs, cpuMs }) => countingMs < COUNTS_MS && cpuMs >= 0);
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
