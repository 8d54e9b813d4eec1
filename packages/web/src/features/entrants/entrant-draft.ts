import type { Entrant, Protocol } from "@tourney/core/contract";

/** An entrant as it is typed: text in every field. */
export const EMPTY_DRAFT = {
  name: "",
  maker: "",
  aliases: "",
  predecessor: "",
  baseUrl: "",
  keyVariable: "",
  concurrency: "2",
  requestsPerMinute: "",
  tokensPerMinute: "",
  model: "",
  temperature: "",
  topP: "",
  maxTokens: "",
  seed: "",
  reasoningEffort: "",
  reasoningBudget: "",
  systemPrompt: "",
  extra: "",
  firstTokenSeconds: "",
  betweenTokensSeconds: "",
  totalSeconds: "",
  priceIn: "",
  priceOut: "",
  priceCached: "",
  priceReasoning: "",
  pricePerRequest: "",
};
export type EntrantDraft = typeof EMPTY_DRAFT;

/** Which field an issue of the schema belongs to. */
export const FIELD_PATHS: Record<keyof EntrantDraft, string> = {
  name: "name",
  maker: "maker",
  aliases: "aliases",
  predecessor: "predecessor",
  baseUrl: "endpoint.baseUrl",
  keyVariable: "endpoint.keyVariable",
  concurrency: "endpoint.concurrency",
  requestsPerMinute: "endpoint.requestsPerMinute",
  tokensPerMinute: "endpoint.tokensPerMinute",
  model: "model",
  temperature: "settings.temperature",
  topP: "settings.topP",
  maxTokens: "settings.maxTokens",
  seed: "settings.seed",
  reasoningEffort: "settings.reasoningEffort",
  reasoningBudget: "settings.reasoningBudget",
  systemPrompt: "settings.systemPrompt",
  extra: "settings.extra",
  firstTokenSeconds: "settings.timeLimits.firstTokenSeconds",
  betweenTokensSeconds: "settings.timeLimits.betweenTokensSeconds",
  totalSeconds: "settings.timeLimits.totalSeconds",
  priceIn: "prices.input",
  priceOut: "prices.output",
  priceCached: "prices.cachedInput",
  priceReasoning: "prices.reasoning",
  pricePerRequest: "prices.perRequest",
};

export const toKey = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** An empty field is left out; text that is not a number stays text, so that the schema says what is wrong with it. */
const number = (text: string) => (text.trim() === "" ? undefined : Number.isNaN(Number(text)) ? text : Number(text));
const json = (text: string): unknown => {
  if (text.trim() === "") return undefined;
  try {
    return JSON.parse(text);
  } catch {
    // Text stays text, so that the schema says that it is no object.
    return text;
  }
};
const withoutAbsent = (value: object) =>
  Object.fromEntries(Object.entries(value).filter(([, item]) => item !== undefined && item !== ""));

/** What the draft says, for the schema to check. @param key of an entrant that is changed; a new one gets it from its name. */
export function toEntrantInput(draft: EntrantDraft, protocol: Protocol, key: string | null): unknown {
  const isByHand = protocol === "by-hand";
  const hasPrices = draft.priceIn.trim() !== "" || draft.priceOut.trim() !== "";
  const aliases = draft.aliases.split(",").map((alias) => alias.trim());
  const timeLimits = withoutAbsent({
    firstTokenSeconds: number(draft.firstTokenSeconds),
    betweenTokensSeconds: number(draft.betweenTokensSeconds),
    totalSeconds: number(draft.totalSeconds),
  });
  return {
    key: key ?? toKey(draft.name),
    name: draft.name,
    maker: draft.maker,
    aliases: aliases.filter((alias) => alias !== ""),
    ...withoutAbsent({ predecessor: draft.predecessor }),
    model: draft.model || (isByHand ? draft.name : ""),
    endpoint: isByHand
      ? { protocol }
      : withoutAbsent({
          protocol,
          baseUrl: draft.baseUrl,
          keyVariable: draft.keyVariable,
          concurrency: number(draft.concurrency),
          requestsPerMinute: number(draft.requestsPerMinute),
          tokensPerMinute: number(draft.tokensPerMinute),
        }),
    settings: {
      ...withoutAbsent({
        temperature: number(draft.temperature),
        topP: number(draft.topP),
        maxTokens: number(draft.maxTokens),
        seed: number(draft.seed),
        reasoningEffort: draft.reasoningEffort,
        reasoningBudget: number(draft.reasoningBudget),
        systemPrompt: draft.systemPrompt,
        extra: json(draft.extra),
      }),
      timeLimits,
    },
    ...(hasPrices
      ? {
          prices: withoutAbsent({
            input: number(draft.priceIn) ?? 0,
            output: number(draft.priceOut) ?? 0,
            cachedInput: number(draft.priceCached),
            reasoning: number(draft.priceReasoning),
            perRequest: number(draft.pricePerRequest),
          }),
        }
      : {}),
  };
}

const text = (value: number | string | undefined) => (value === undefined ? "" : String(value));

/** The draft of an entrant that is to be changed. Prices that differ by date are left to the file. */
export function toDraft({
  name,
  maker,
  aliases,
  predecessor,
  endpoint,
  model,
  settings,
  prices,
}: Entrant): EntrantDraft {
  const reached = endpoint.protocol === "by-hand" ? null : endpoint;
  const price = prices === undefined || Array.isArray(prices) ? null : prices;
  return {
    name,
    maker,
    aliases: aliases.join(", "),
    predecessor: predecessor ?? "",
    baseUrl: reached?.baseUrl ?? "",
    keyVariable: reached?.keyVariable ?? "",
    concurrency: text(reached?.concurrency),
    requestsPerMinute: text(reached?.requestsPerMinute),
    tokensPerMinute: text(reached?.tokensPerMinute),
    model,
    temperature: text(settings.temperature),
    topP: text(settings.topP),
    maxTokens: text(settings.maxTokens),
    seed: text(settings.seed),
    reasoningEffort: settings.reasoningEffort ?? "",
    reasoningBudget: text(settings.reasoningBudget),
    systemPrompt: settings.systemPrompt ?? "",
    extra: settings.extra === undefined ? "" : JSON.stringify(settings.extra),
    firstTokenSeconds: text(settings.timeLimits.firstTokenSeconds),
    betweenTokensSeconds: text(settings.timeLimits.betweenTokensSeconds),
    totalSeconds: text(settings.timeLimits.totalSeconds),
    priceIn: text(price?.input),
    priceOut: text(price?.output),
    priceCached: text(price?.cachedInput),
    priceReasoning: text(price?.reasoning),
    pricePerRequest: text(price?.perRequest),
  };
}
