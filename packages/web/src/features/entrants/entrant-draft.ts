import { type Entrant, EntrantInput, listIssues, type Price, type Protocol } from "@tourney/core/contract";
import { type FieldErrors, type Resolver, set } from "react-hook-form";

/** One price as it is typed. */
export const EMPTY_PRICE = {
  input: "",
  output: "",
  cachedInput: "",
  reasoning: "",
  perRequest: "",
  currency: "USD",
  usdRate: "",
  validFrom: "",
  validUntil: "",
};
export type PriceDraft = typeof EMPTY_PRICE;

/** An entrant as it is typed: text in every field, under the paths that the schema's issues name. */
export const EMPTY_DRAFT = {
  name: "",
  maker: "",
  /** One a line: a name may hold a comma. */
  aliases: "",
  predecessor: "",
  model: "",
  endpoint: { baseUrl: "", keyVariable: "", concurrency: "2", requestsPerMinute: "", tokensPerMinute: "" },
  settings: {
    temperature: "",
    topP: "",
    maxTokens: "",
    seed: "",
    reasoningEffort: "",
    reasoningBudget: "",
    systemPrompt: "",
    extra: "",
    timeLimits: { firstTokenSeconds: "", betweenTokensSeconds: "", totalSeconds: "" },
  },
  prices: [EMPTY_PRICE],
};
export type EntrantDraft = typeof EMPTY_DRAFT;

export const toKey = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

/** An empty field is left out; text that is not a number stays text, so that the schema says what is wrong with it. */
const number = (text: string) => (text.trim() === "" ? undefined : Number.isNaN(Number(text)) ? text : Number(text));
const word = (text: string) => (text === "" ? undefined : text);
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
  Object.fromEntries(Object.entries(value).filter(([, item]) => item !== undefined));

/** A price of which nothing but the currency is filled in is none. */
const isFilled = ({ currency: _, ...rest }: PriceDraft): boolean =>
  Object.values(rest).some((text) => text.trim() !== "");

const toPrice = (draft: PriceDraft) =>
  withoutAbsent({
    input: number(draft.input),
    output: number(draft.output),
    cachedInput: number(draft.cachedInput),
    reasoning: number(draft.reasoning),
    perRequest: number(draft.perRequest),
    currency: draft.currency.trim().toUpperCase(),
    usdRate: number(draft.usdRate),
    validFrom: word(draft.validFrom),
    validUntil: word(draft.validUntil),
  });

/** What of an entrant is not typed. */
export interface DraftContext {
  protocol: Protocol;
  /** Of an entrant that is changed; a new one gets it from its name. */
  key: string | null;
  /** Whether its prices were a list, also when that held one. */
  hadPriceList: boolean;
}

/** What the draft says, for the schema to check. */
export function toEntrantInput(draft: EntrantDraft, { protocol, key, hadPriceList }: DraftContext): unknown {
  const isByHand = protocol === "by-hand";
  const { endpoint, settings } = draft;
  const { timeLimits } = settings;
  const prices = draft.prices.filter(isFilled).map(toPrice);
  const aliases = draft.aliases.split("\n").map((alias) => alias.trim());
  return {
    key: key ?? toKey(draft.name),
    name: draft.name,
    maker: draft.maker,
    aliases: aliases.filter((alias) => alias !== ""),
    ...withoutAbsent({ predecessor: word(draft.predecessor) }),
    model: draft.model || (isByHand ? draft.name : ""),
    endpoint: isByHand
      ? { protocol }
      : withoutAbsent({
          protocol,
          baseUrl: endpoint.baseUrl,
          keyVariable: word(endpoint.keyVariable),
          concurrency: number(endpoint.concurrency),
          requestsPerMinute: number(endpoint.requestsPerMinute),
          tokensPerMinute: number(endpoint.tokensPerMinute),
        }),
    settings: withoutAbsent({
      temperature: number(settings.temperature),
      topP: number(settings.topP),
      maxTokens: number(settings.maxTokens),
      seed: number(settings.seed),
      reasoningEffort: word(settings.reasoningEffort),
      reasoningBudget: number(settings.reasoningBudget),
      systemPrompt: word(settings.systemPrompt),
      extra: json(settings.extra),
      timeLimits: withoutAbsent({
        firstTokenSeconds: number(timeLimits.firstTokenSeconds),
        betweenTokensSeconds: number(timeLimits.betweenTokensSeconds),
        totalSeconds: number(timeLimits.totalSeconds),
      }),
    }),
    ...(prices.length === 0 ? {} : { prices: prices.length === 1 && !hadPriceList ? prices[0] : prices }),
  };
}

const text = (value: number | string | undefined) => (value === undefined ? "" : String(value));

const toPriceDraft = (price: Price): PriceDraft => ({
  input: text(price.input),
  output: text(price.output),
  cachedInput: text(price.cachedInput),
  reasoning: text(price.reasoning),
  perRequest: text(price.perRequest),
  currency: price.currency,
  usdRate: text(price.usdRate),
  validFrom: text(price.validFrom),
  validUntil: text(price.validUntil),
});

/** The draft of an entrant that is to be changed: all of it, so that saving it unchanged changes nothing. */
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
  const { timeLimits } = settings;
  const list = [prices ?? []].flat();
  return {
    ...{ name, maker, model, predecessor: predecessor ?? "", aliases: aliases.join("\n") },
    endpoint: {
      baseUrl: reached?.baseUrl ?? "",
      keyVariable: reached?.keyVariable ?? "",
      concurrency: text(reached?.concurrency ?? 2),
      requestsPerMinute: text(reached?.requestsPerMinute),
      tokensPerMinute: text(reached?.tokensPerMinute),
    },
    settings: {
      temperature: text(settings.temperature),
      topP: text(settings.topP),
      maxTokens: text(settings.maxTokens),
      seed: text(settings.seed),
      reasoningEffort: settings.reasoningEffort ?? "",
      reasoningBudget: text(settings.reasoningBudget),
      systemPrompt: settings.systemPrompt ?? "",
      extra: settings.extra === undefined ? "" : JSON.stringify(settings.extra),
      timeLimits: {
        firstTokenSeconds: text(timeLimits.firstTokenSeconds),
        betweenTokensSeconds: text(timeLimits.betweenTokensSeconds),
        totalSeconds: text(timeLimits.totalSeconds),
      },
    },
    prices: list.length === 0 ? [EMPTY_PRICE] : list.map(toPriceDraft),
  };
}

/** The field of the form that an issue of the schema, or of the server, belongs to. */
export function fieldOf(path: string, draft: EntrantDraft): string {
  if (path === "key") return "name";
  if (path.startsWith("aliases")) return "aliases";
  if (path.startsWith("settings.extra")) return "settings.extra";
  const [, place, member] = /^prices\.(?:(\d+)\.)?(\w+)$/.exec(path) ?? [];
  if (member === undefined) return path;
  // Rows that are not filled in are left out, so that the schema counts the others only.
  const filled = draft.prices.flatMap((price, index) => (isFilled(price) ? [index] : []));
  return `prices.${filled[Number(place ?? 0)] ?? 0}.${member}`;
}

/** Checks the draft by the schema that the server uses; each issue is told at its field. */
export const draftResolver =
  (context: DraftContext): Resolver<EntrantDraft, unknown, EntrantInput> =>
  (draft) => {
    const parsed = EntrantInput.safeParse(toEntrantInput(draft, context));
    if (parsed.success) return { values: parsed.data, errors: {} };
    const errors: FieldErrors<EntrantDraft> = {};
    for (const { path, message } of listIssues(parsed.error))
      set(errors, fieldOf(path, draft), { type: "schema", message });
    return { values: {}, errors };
  };

/** What one would type to enter this entrant again. */
export const toInputOf = (entrant: Entrant): EntrantInput =>
  EntrantInput.parse(
    toEntrantInput(toDraft(entrant), {
      protocol: entrant.endpoint.protocol,
      key: entrant.key,
      hadPriceList: Array.isArray(entrant.prices),
    }),
  );
