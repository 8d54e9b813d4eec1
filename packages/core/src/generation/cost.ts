import type { Prices, Usage } from "../contract/index.js";

/** What a request cost in US dollars, or null when its usage or the prices are not known. */
export function computeCostUsd(usage: Usage | null, prices: Prices | null): number | null {
  if (usage === null || prices === null || usage.inputTokens === null || usage.outputTokens === null) return null;
  return (usage.inputTokens * prices.input + usage.outputTokens * prices.output) / 1_000_000;
}
