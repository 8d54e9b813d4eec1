import type { Price, Prices, Usage } from "../contract/index.js";

/** The price that holds on a day, or null. @param at an instant, ISO 8601. */
export function findPrice(prices: Prices | null, at: string): Price | null {
  const day = at.slice(0, 10);
  const holds = ({ validFrom, validUntil }: Price) =>
    (validFrom === undefined || validFrom <= day) && (validUntil === undefined || day <= validUntil);
  return [prices ?? []].flat().find(holds) ?? null;
}

/**
 * What one request cost in US dollars by the price valid then, or null when its usage or that price is not known.
 * Cached input and reasoning are parts of the input and the output, and have their own price where one is given.
 *
 * @param at when the request was sent, ISO 8601.
 */
export function computeCostUsd(usage: Usage | null, prices: Prices | null, at: string): number | null {
  const price = findPrice(prices, at);
  if (usage === null || price === null || usage.inputTokens === null || usage.outputTokens === null) return null;
  const cached = Math.min(usage.cachedInputTokens ?? 0, usage.inputTokens);
  const reasoning = Math.min(usage.reasoningTokens ?? 0, usage.outputTokens);
  const tokens =
    (usage.inputTokens - cached) * price.input +
    cached * (price.cachedInput ?? price.input) +
    (usage.outputTokens - reasoning) * price.output +
    reasoning * (price.reasoning ?? price.output);
  return (tokens / 1_000_000 + (price.perRequest ?? 0)) * (price.usdRate ?? 1);
}
