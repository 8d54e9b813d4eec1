import { TourneyError } from "@tourney/core/errors";
import { type InputIssue, listIssues } from "@tourney/core/contract";
import type * as z from "zod";

/** An INVALID_INPUT error that lists every issue, for showing beside the fields. */
export class InvalidInput extends TourneyError {
  constructor(
    readonly issues: readonly InputIssue[],
    readonly what: string,
  ) {
    const first = issues[0];
    super("INVALID_INPUT", {
      message: `${what} cannot be used${first ? `: ${first.path ? `${first.path}: ` : ""}${first.message}` : ""}${issues.length > 1 ? ` (and ${issues.length - 1} more)` : ""}`,
      reason: "It does not match what this operation takes.",
      remedy: "Correct what is named and send it again. Nothing was changed.",
    });
  }
}

/** Parses an input by its schema. @throws InvalidInput */
export function parseInput<Schema extends z.ZodType>(
  schema: Schema,
  input: unknown,
  what = "The request",
): z.output<Schema> {
  const parsed = schema.safeParse(input);
  if (parsed.success) return parsed.data;
  throw new InvalidInput(listIssues(parsed.error), what);
}

/** The JSON of a body. @throws TourneyError INVALID_INPUT */
export function parseJson(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).toString("utf8"));
  } catch (cause) {
    throw new TourneyError("INVALID_INPUT", {
      message: "The request's body cannot be read.",
      reason: (cause as Error).message.slice(0, 200),
      remedy: "Send valid JSON.",
      cause,
    });
  }
}
