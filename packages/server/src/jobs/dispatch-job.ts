import type { Room } from "@tourney/store";
import type { Logger } from "pino";
import type { Database } from "../db/connection.js";
import type { GenerationStates } from "../generations/generation-states-repository.js";
import type { AddJob } from "./queue.js";
import type { EndpointLoad } from "./dispatch-queries.sql.js";
import { DispatchRepository } from "./dispatch-repository.js";

/** How many failures in a row pause a model at an endpoint. */
export const CIRCUIT_THRESHOLD = 3;
/** A limit by the minute is looked at again this soon. */
const LIMIT_RECHECK_MS = 2000;
/** And a disk that is nearly full this soon. */
const ROOM_RECHECK_MS = 10_000;

/**
 * The `dispatch` job: admits queued generations to their endpoints, as many as concurrency, limits by the minute and the
 * run's budget allow. One at a time across all processes, so that the limits are kept by all of them together. It runs
 * whenever something may have changed, and sees to it that it runs again when a wait is over.
 */
export function createDispatchJob({
  db,
  states,
  addJob,
  room,
  log,
}: {
  db: Database;
  room: Room;
  states: GenerationStates;
  addJob: AddJob;
  log: Logger;
}) {
  const repository = new DispatchRepository(db);
  return async (): Promise<void> => {
    const { isLow, freeBytes } = await room.read();
    if (isLow) {
      log.warn({ freeBytes }, "there is too little room on the disk: nothing new is asked");
      await addJob("dispatch", {}, { key: "dispatch-later", runAt: new Date(Date.now() + ROOM_RECHECK_MS) });
      return;
    }
    const wakeInMs = await db.transact(async (transaction) => {
      await repository.lock(transaction);
      let wake = Number.POSITIVE_INFINITY;
      for (const endpoint of await repository.listLoads(transaction)) {
        const { free, recheckMs } = countFree(endpoint);
        if (free > 0) {
          const { candidates, openMs } = await repository.listCandidates(endpoint.id, free, transaction);
          wake = Math.min(wake, openMs);
          const { admitted, held } = await repository.withinBudgets(candidates, transaction);
          await states.admit(admitted, transaction);
          for (const runId of held) {
            await states.hold(runId, transaction);
            log.info({ runId }, "the budget is reached; the rest is held");
          }
        }
        wake = Math.min(wake, recheckMs ?? Number.POSITIVE_INFINITY);
      }
      const nextMs = await repository.findNextDueMs(transaction);
      return Math.min(wake, nextMs ?? Number.POSITIVE_INFINITY);
    });
    if (Number.isFinite(wakeInMs))
      await addJob("dispatch", {}, { key: "dispatch-later", runAt: new Date(Date.now() + Math.max(50, wakeInMs)) });
  };
}

/** How many requests an endpoint may take now, and when to look again if it is limited by time. */
export function countFree(endpoint: EndpointLoad): { free: number; recheckMs: number | null } {
  const { concurrency, inFlight, requestsPerMinute, tokensPerMinute } = endpoint;
  const slots = concurrency - inFlight;
  const requests =
    requestsPerMinute === null ? slots : requestsPerMinute - endpoint.requestsLastMinute - endpoint.admitted;
  const areTokensUsed = tokensPerMinute !== null && endpoint.tokensLastMinute >= tokensPerMinute;
  const free = areTokensUsed ? 0 : Math.max(0, Math.min(slots, requests));
  const isLimitedByTime = slots > 0 && free < slots;
  return { free, recheckMs: isLimitedByTime ? LIMIT_RECHECK_MS : null };
}
