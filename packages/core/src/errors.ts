/** Every code a TourneyError can carry. The HTTP status of each is looked up in `HTTP_STATUS`. */
export const HTTP_STATUS = {
  INVALID_INPUT: 400,
  INVALID_FILE: 422,
  NOT_SIGNED_IN: 401,
  NOT_ALLOWED: 403,
  NOT_FOUND: 404,
  CONFLICT: 409,
  TOO_LARGE: 413,
  WRONG_HOST: 421,
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

/** What PostgreSQL says when it ends, has ended badly, or has not begun yet, and what a lost connection is called (SQLSTATE classes 57P and 08). */
const POSTGRES_AWAY = /^(?:57P0[123]|08\w{3})$/;
const CONNECTION_LOST = /^Connection terminated|Client has encountered a connection error/;

function isDatabaseAway(thrown: unknown, depth = 0): boolean {
  if (!(thrown instanceof Error) || depth > 8) return false;
  const { code, original, cause } = thrown as { code?: unknown; original?: unknown; cause?: unknown };
  return (
    (typeof code === "string" && POSTGRES_AWAY.test(code)) ||
    CONNECTION_LOST.test(thrown.message) ||
    /^Sequelize(?:Connection|HostNot)/.test(thrown.name) ||
    isDatabaseAway(original, depth + 1) ||
    isDatabaseAway(cause, depth + 1)
  );
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
  if (isDatabaseAway(thrown)) {
    return new TourneyError("DATABASE_UNAVAILABLE", {
      message: "Tourney's database does not answer at the moment.",
      reason:
        "It ended or was cut off. One that Tourney itself runs is started again at once; nothing that was stored is lost.",
      remedy: "Wait a few seconds; the page tries again by itself. `./tourney status` says what is away.",
      cause: thrown,
    });
  }
  const noRight = systemCode === "EACCES" || systemCode === "EPERM" || systemCode === "EROFS";
  return new TourneyError("INTERNAL", {
    message: noRight
      ? `Tourney may not write or read a file of its own (${systemCode}).`
      : "Something went wrong on Tourney's side.",
    reason: thrown instanceof Error ? thrown.message : String(thrown),
    remedy: noRight
      ? "Give its folder to the user that it runs as, then try again. The log names the file."
      : "Try again. If it happens again, the log has the full trace under the request's id.",
    cause: thrown,
  });
}
