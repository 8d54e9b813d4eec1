import { TourneyError } from "@tourney/core/errors";
import * as z from "zod";

/** Where and what, of each thing that is wrong with an input. */
export interface InputIssue {
  path: string;
  message: string;
}

/** An INVALID_INPUT error that lists every issue, for showing beside the fields. */
export class InvalidInput extends TourneyError {
  constructor(
    readonly issues: readonly InputIssue[],
    what: string,
  ) {
    const first = issues[0];
    super("INVALID_INPUT", {
      message: `${what} cannot be used${first ? `: ${first.path ? `${first.path}: ` : ""}${first.message}` : ""}${issues.length > 1 ? ` (and ${issues.length - 1} more)` : ""}`,
      reason: "It does not match what this operation takes.",
      remedy: "Correct what is named and send it again. Nothing was changed.",
    });
  }
}

/** Zod's issues as paths and sentences; those inside a union are taken from its nearest branch. */
export function listIssues(error: z.core.$ZodError, prefix = ""): InputIssue[] {
  return error.issues.flatMap((issue) => {
    const path = [prefix, issue.path.join(".")].filter((part) => part !== "").join(".");
    if (issue.code === "invalid_union" && issue.errors.length > 0) {
      const nearest = [...issue.errors].sort(
        (a, b) => b.flatMap((i) => i.path).length - a.flatMap((i) => i.path).length,
      )[0]!;
      return nearest.map((inner) => ({
        path: [path, inner.path.join(".")].filter((part) => part !== "").join("."),
        message: inner.message,
      }));
    }
    return [{ path, message: issue.message }];
  });
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
