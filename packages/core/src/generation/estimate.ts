import type { Prices, Settings } from "../contract/index.js";
import { computeCostUsd } from "./cost.js";

/** What is known of an entrant's earlier answers: medians, or null without any. */
export interface EarlierUsage {
  inputTokens: number | null;
  outputTokens: number | null;
  totalMs: number | null;
  answers: number;
}

/** Where an estimate's output and time come from. */
export type EstimateBasis = "earlier answers" | "defaults";

export interface CellEstimate {
  inputTokens: number;
  outputTokens: number;
  /** Null when the entrant's prices are not known. */
  costUsd: number | null;
  seconds: number;
  basis: EstimateBasis;
}

/** Declared defaults for an entrant of which nothing is known yet. */
export const ESTIMATE_DEFAULTS = { outputTokens: 6000, tokensPerSecond: 50, charactersPerToken: 4 } as const;

/**
 * What one generation will roughly take: output and time from the entrant's earlier answers, or the declared defaults;
 * input from the request's length.
 * @param at the day whose price holds, ISO 8601.
 */
export function estimateCell(
  {
    requestLength,
    snapshot,
    at,
  }: { requestLength: number; snapshot: { settings: Settings; prices: Prices | null }; at: string },
  earlier: EarlierUsage,
): CellEstimate {
  const { outputTokens: usual, tokensPerSecond, charactersPerToken } = ESTIMATE_DEFAULTS;
  const isKnown = earlier.answers > 0 && earlier.outputTokens !== null;
  const inputTokens = Math.ceil((requestLength + (snapshot.settings.systemPrompt?.length ?? 0)) / charactersPerToken);
  const outputTokens = isKnown ? earlier.outputTokens! : Math.min(usual, snapshot.settings.maxTokens ?? usual);
  const usage = { inputTokens, outputTokens, cachedInputTokens: null, reasoningTokens: null };
  return {
    inputTokens,
    outputTokens,
    costUsd: computeCostUsd(usage, snapshot.prices, at),
    seconds: isKnown && earlier.totalMs !== null ? earlier.totalMs / 1000 : outputTokens / tokensPerSecond,
    basis: isKnown ? "earlier answers" : "defaults",
  };
}
