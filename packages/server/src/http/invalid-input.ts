import { TourneyError } from "@tourney/core/errors";
import type { InputIssue } from "@tourney/core/contract";

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
