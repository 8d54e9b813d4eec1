import type { ArtifactKind, FailureCause, Outcome, RuleBreak, Verdict } from "../contract/index.js";

const BY_VERDICT: Readonly<Record<Verdict, Outcome>> = {
  ok: "answered",
  truncated: "truncated",
  refusal: "refused",
  empty: "empty",
  no_artifact: "no_artifact",
};

const BY_CAUSE: Readonly<Record<FailureCause, Outcome>> = {
  unreachable: "endpoint_down",
  server_error: "endpoint_down",
  cut_stream: "endpoint_down",
  lost: "endpoint_down",
  storage: "endpoint_down",
  internal: "endpoint_down",
  rate_limited: "rate_limited",
  timeout: "stalled",
  stalled: "stalled",
  unauthorized: "rejected",
  bad_request: "rejected",
  bad_response: "rejected",
  key_missing: "rejected",
};

/** What became of an answered generation, by what was found in its answer. */
export function outcomeOfAnswer({
  verdict,
  kind,
  ruleBreaks,
  finishReason = null,
}: {
  verdict: Verdict;
  kind: ArtifactKind;
  ruleBreaks: readonly RuleBreak[];
  finishReason?: string | null;
}): Outcome {
  // An endpoint that keeps an answer back says so by its reason alone.
  if (verdict === "empty" && /filter|refus|safety/i.test(finishReason ?? "")) return "refused";
  if (verdict === "empty" && isAtLimit(finishReason)) return "truncated";
  // Something was built, but not of the sort that was asked for: another language, or a component where frameworks are forbidden.
  const isWrong = ruleBreaks.some(({ rule }) => rule === "language" || (rule === "framework" && kind === "component"));
  return verdict === "ok" && isWrong ? "wrong_thing" : BY_VERDICT[verdict];
}

/** What became of a generation whose last request failed for good. */
export const outcomeOfFailure = (cause: FailureCause): Outcome => BY_CAUSE[cause];

export interface AnswerPolicy {
  /** How often an answer that was cut at the limit is continued. */
  continuations: number;
  /** How often a refusal or an empty answer is asked for again. */
  refusalRetries: number;
}

const isAtLimit = (finishReason: string | null): boolean => /length|max_?tokens|limit/i.test(finishReason ?? "");

/** What to send next after an answer came whole, or null when it is final. */
export function planFollowing(
  { verdict, finishReason, hasText }: { verdict: Verdict; finishReason: string | null; hasText: boolean },
  used: AnswerPolicy,
  policy: AnswerPolicy,
): "continuation" | "again" | null {
  // Reasoning alone reached the limit: there is nothing to continue, and asked again it would think as long, at the full price.
  if (isAtLimit(finishReason) && !hasText) return null;
  if (isAtLimit(finishReason) && verdict !== "ok" && verdict !== "refusal" && used.continuations < policy.continuations)
    return "continuation";
  if ((verdict === "refusal" || verdict === "empty") && used.refusalRetries < policy.refusalRetries) return "again";
  return null;
}

/** The user's message that asks for the rest of an answer that was cut at the limit: the same for every entrant. */
export const CONTINUE_TEXT =
  "Your answer was cut off by the length limit. Continue exactly where it stopped, without repeating anything and without any comment.";
