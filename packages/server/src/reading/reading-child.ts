import { type ErrorCode, TourneyError } from "@tourney/core/errors";
import { InvalidInput } from "../http/invalid-input.js";
import { READINGS, type ReadingName } from "./readings.js";

/** What a child process is asked. */
export interface Asked {
  name: ReadingName;
  given: unknown;
}

/** An error as it can be sent between processes, which keep of errors of our own nothing but the message. */
interface SentError {
  code: ErrorCode;
  message: string;
  reason: string;
  remedy: string;
  issues: InvalidInput["issues"] | null;
  what: string | null;
}

/** What a child process answers. */
export type Sent =
  { kind: "read"; value: unknown } | { kind: "refused"; error: SentError } | { kind: "failed"; error: unknown };

async function answer({ name, given }: Asked): Promise<Sent> {
  try {
    return { kind: "read", value: await (READINGS[name] as (given: unknown) => unknown)(given) };
  } catch (thrown) {
    if (!(thrown instanceof TourneyError)) return { kind: "failed", error: thrown };
    const { code, message, reason, remedy } = thrown;
    const { issues, what } = thrown instanceof InvalidInput ? thrown : { issues: null, what: null };
    return { kind: "refused", error: { code, message, reason, remedy, issues, what } };
  }
}

process.on("message", (asked: Asked) => {
  void answer(asked).then((sent) => process.send?.(sent));
});
// Without the server there is nobody to read for.
process.on("disconnect", () => process.exit());
