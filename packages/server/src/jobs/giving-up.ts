import { toTourneyError } from "@tourney/core/errors";
import type { JobHelpers, Task } from "graphile-worker";
import type { Logger } from "pino";

/** A job is given up when it has failed this many times and the last two failed alike: it would go on failing. */
const FAILURE_LIMIT = 3;

/** What ends a job's subject as a failure that the lead sees and can retry. */
type GiveUp = (payload: unknown, failure: { message: string; remedy: string }) => Promise<void>;

/**
 * A task that ends as a failure when it fails in the same way again and again, whatever the reason. What failed in another way than the time
 * before is tried again, with the queue's own growing waits.
 */
export function givingUp(task: Task, { giveUp, log }: { giveUp: GiveUp; log: Logger }): Task {
  return async (payload, helpers) => {
    try {
      await task(payload, helpers);
    } catch (thrown) {
      if (helpers.abortSignal.aborted || !failsAlike(thrown, helpers)) throw thrown;
      const { message, remedy } = toTourneyError(thrown);
      log.error({ err: thrown, payload, attempts: helpers.job.attempts }, "given up: it failed in the same way again");
      await giveUp(payload, { message, remedy });
    }
  };
}

function failsAlike(thrown: unknown, { job }: JobHelpers): boolean {
  const message = thrown instanceof Error ? thrown.message : String(thrown);
  return job.attempts >= FAILURE_LIMIT && job.last_error === message;
}
