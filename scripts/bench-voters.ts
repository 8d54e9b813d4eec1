import { setTimeout as sleep } from "node:timers/promises";
import type pg from "pg";
import type { Voter } from "./booth-scene.js";

export interface Queue {
  bouts: { token: string }[];
}

/** A voter of a panel, and the bouts that wait for its answers. */
export interface Seat {
  voter: Voter;
  queue: Queue;
}

/** What became of the ballots that were sent. */
export interface Outcome {
  acknowledged: Set<string>;
  tried: Set<string>;
  /** How long each took that was acknowledged, in ms. */
  times: number[];
  retried: number;
}

export const noOutcome = (): Outcome => ({ acknowledged: new Set(), tried: new Set(), times: [], retried: 0 });

const TRY_AGAIN_MS = 100;

/** Asks for as long as the server is away, as a voter's browser does. @throws Error when it refuses, or is away for longer than `limitMs` */
export async function insist(
  ask: () => ReturnType<Voter["call"]>,
  { limitMs, onRetry = () => undefined }: { limitMs: number; onRetry?: () => void },
): Promise<unknown> {
  const end = performance.now() + limitMs;
  while (performance.now() < end) {
    const answer = await ask().catch(() => null);
    if (answer !== null && answer.status < 300) return answer.body;
    if (answer !== null && answer.status < 500) throw new Error(`${answer.status}: ${JSON.stringify(answer.body)}`);
    onRetry();
    await sleep(TRY_AGAIN_MS);
  }
  throw new Error("The server did not come back.");
}

/** Casts a voter's next ballot, the same one again for as long as the server is away. */
export async function castNext(
  seat: Seat,
  { lean, record, limitMs = 60_000 }: { lean: number; record: Outcome; limitMs?: number },
): Promise<void> {
  const { token } = seat.queue.bouts[0]!;
  record.tried.add(token);
  let at = performance.now();
  const body = await insist(
    () => {
      at = performance.now();
      return seat.voter.call("POST", `/api/booth/bouts/${token}/ballot`, { lean, dwellMs: 3000 });
    },
    { limitMs, onRetry: () => record.retried++ },
  );
  record.acknowledged.add(token);
  record.times.push(performance.now() - at);
  seat.queue = (body as { queue: Queue }).queue;
}

/** How many of the ballots that were acknowledged are not there, and how many are there twice. */
export async function compareBallots(
  client: pg.Pool | pg.Client,
  { acknowledged, tried }: Outcome,
): Promise<{ lost: number; doubled: number }> {
  const { rows } = await client.query<{ token: string; n: number }>(
    "SELECT o.token, count(*)::int AS n FROM ballots b JOIN bouts o ON o.id = b.bout_id WHERE b.voided_at IS NULL AND o.token = ANY($1) GROUP BY 1",
    [[...tried]],
  );
  const kept = new Map(rows.map(({ token, n }) => [token, n]));
  return {
    lost: [...acknowledged].filter((token) => !kept.has(token)).length,
    doubled: [...kept.values()].filter((n) => n > 1).length,
  };
}
