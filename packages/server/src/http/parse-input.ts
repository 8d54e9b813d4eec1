import { TourneyError } from "@tourney/core/errors";
import { listIssues } from "@tourney/core/contract";
import type * as z from "zod";
import { InvalidInput } from "./invalid-input.js";

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
