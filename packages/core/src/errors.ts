/** Every code a TourneyError can carry. The HTTP status of each is looked up in `HTTP_STATUS`. */
export const HTTP_STATUS = {
  INVALID_INPUT: 400,
  INVALID_FILE: 422,
  NOT_SIGNED_IN: 401,
  NOT_ALLOWED: 403,
  NOT_FOUND: 404,
  CONFLICT: 409,
  TOO_LARGE: 413,
  RATE_LIMITED: 429,
  ENDPOINT_UNREACHABLE: 502,
  ENDPOINT_REFUSED: 502,
  BROWSER_MISSING: 503,
  RENDER_FAILED: 500,
  MACHINE_BUSY: 503,
  DATABASE_UNAVAILABLE: 503,
  DISK_FULL: 507,
  SETUP_FAILED: 500,
  NOT_RUNNING: 503,
  INTERNAL: 500,
} as const;

export type ErrorCode = keyof typeof HTTP_STATUS;

export interface ErrorParts {
  /** What happened, with the offending value. */
  message: string;
  /** Why it is a problem. */
  reason: string;
  /** What the reader can do next. */
  remedy: string;
  cause?: unknown;
}

/** The one error class that crosses a boundary: what happened, why, and what to do are all required. */
export class TourneyError extends Error {
  override readonly name = "TourneyError";
  readonly reason: string;
  readonly remedy: string;

  constructor(
    readonly code: ErrorCode,
    { message, reason, remedy, cause }: ErrorParts,
  ) {
    super(message, cause === undefined ? undefined : { cause });
    this.reason = reason;
    this.remedy = remedy;
  }
}

/** The three texts of an error as one block for a terminal. */
export function describeError(error: TourneyError): string {
  return `${error.message}\n  Why: ${error.reason}\n  What to do: ${error.remedy}`;
}

/** The error number of a failed system call (`ENOSPC`, `ECONNREFUSED` …) anywhere down the chain of causes, or null. */
export function findSystemCode(thrown: unknown): string | null {
  for (let error = thrown, depth = 0; error instanceof Error && depth < 8; error = error.cause, depth++) {
    const { code } = error as { code?: unknown };
    if (typeof code === "string" && /^E[A-Z]+$/.test(code)) return code;
    if (error instanceof AggregateError) {
      const inner: string | null = error.errors.map(findSystemCode).find((found) => found !== null) ?? null;
      if (inner !== null) return inner;
    }
  }
  return null;
}

/** PostgreSQL's own code for a disk that is full, which the database layer wraps as `original`. */
const POSTGRES_DISK_FULL = "53100";

function isDatabaseDiskFull(thrown: unknown): boolean {
  const { original, code } = (typeof thrown === "object" && thrown !== null ? thrown : {}) as Record<string, unknown>;
  return code === POSTGRES_DISK_FULL || (original !== undefined && original !== thrown && isDatabaseDiskFull(original));
}

/** Anything thrown as a TourneyError: known system failures are explained, the rest become INTERNAL with the cause kept. */
export function toTourneyError(thrown: unknown): TourneyError {
  if (thrown instanceof TourneyError) return thrown;
  const systemCode = findSystemCode(thrown);
  if (systemCode === "ENOSPC" || systemCode === "EDQUOT" || isDatabaseDiskFull(thrown)) {
    return new TourneyError("DISK_FULL", {
      message: "The disk is full; the file could not be written.",
      reason: "Answers, entries and recordings are kept as files beside the database.",
      remedy: "Free some space, then retry. Nothing that was stored before is lost.",
      cause: thrown,
    });
  }
  return new TourneyError("INTERNAL", {
    message: "Something went wrong on Tourney's side.",
    reason: thrown instanceof Error ? thrown.message : String(thrown),
    remedy: "Try again. If it happens again, the log has the full trace under the request's id.",
    cause: thrown,
  });
}
