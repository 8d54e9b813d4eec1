import type { FailureCause } from "../contract/index.js";
import type { Random } from "../random.js";

/** Causes that may go away by themselves. The others would fail the same way again, and cost money doing so. */
const PASSING: ReadonlySet<FailureCause> = new Set([
  "unreachable",
  "rate_limited",
  "server_error",
  "timeout",
  "stalled",
  "cut_stream",
  "lost",
  "storage",
  "internal",
]);

export interface RetryPolicy {
  /** How often one generation is sent at most, the first time included. */
  maxAttempts: number;
  firstDelayMs: number;
  longestDelayMs: number;
}

/** Nobody waits for longer because an endpoint asks to: it is told to the lead instead. */
export const LONGEST_ASKED_WAIT_MS = 10 * 60_000;

/**
 * How long to wait before the next attempt, or null when there should be none.
 * Exponential backoff with full jitter (Brooker 2015): uniform between half and the whole of the doubled delay, so that
 * many requests that failed together do not come back together. A delay the endpoint asked for is obeyed.
 *
 * @param attempts how often it was sent so far, ≥ 1.
 * @param retryAfterMs what the endpoint asked for, or null.
 */
export function planRetryMs(
  { cause, attempts, retryAfterMs }: { cause: FailureCause; attempts: number; retryAfterMs: number | null },
  policy: RetryPolicy,
  random: Random,
): number | null {
  if (!PASSING.has(cause) || attempts >= policy.maxAttempts) return null;
  if (retryAfterMs !== null && retryAfterMs > LONGEST_ASKED_WAIT_MS) return null;
  const doubled = Math.min(policy.longestDelayMs, policy.firstDelayMs * 2 ** (attempts - 1));
  const jittered = doubled * (0.5 + random() / 2);
  return Math.round(Math.max(jittered, retryAfterMs ?? 0));
}

/** The value of a Retry-After header in milliseconds (RFC 9110, 10.2.3: seconds or a date), or null when it is neither. */
export function parseRetryAfterMs(header: string | null, nowMs: number): number | null {
  if (header === null) return null;
  if (/^\s*\d+(\.\d+)?\s*$/.test(header)) return Number(header) * 1000;
  const dateMs = Date.parse(header);
  return Number.isNaN(dateMs) ? null : Math.max(0, dateMs - nowMs);
}
