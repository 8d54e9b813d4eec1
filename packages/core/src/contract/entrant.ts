import * as z from "zod";
import { Id, Instant, Key, YamlText } from "./common.js";

/** How long to wait for an endpoint before its answer counts as stalled. */
export const TimeLimits = z
  .strictObject({
    firstTokenSeconds: z.int().min(1).max(3600).default(180).describe("Until the first token, reasoning included."),
    betweenTokensSeconds: z.int().min(1).max(3600).default(90),
    totalSeconds: z.int().min(1).max(14_400).default(1200).describe("For one whole answer."),
  })
  .meta({ id: "TimeLimits" });
export type TimeLimits = z.infer<typeof TimeLimits>;

/** Settings that are pinned: what is absent is not sent, so that the endpoint's own default holds. */
export const Settings = z
  .strictObject({
    temperature: z.number().min(0).max(2).optional(),
    topP: z.number().min(0).max(1).optional(),
    maxTokens: z.int().min(1).max(1_000_000).optional(),
    seed: z.int().min(0).max(2_147_483_647).optional(),
    reasoningEffort: z.enum(["none", "minimal", "low", "medium", "high"]).optional(),
    reasoningBudget: z.int().min(0).max(1_000_000).optional().describe("Tokens; 0 turns reasoning off."),
    systemPrompt: z.string().max(20_000).optional(),
    extra: z
      .record(z.string().regex(/^[A-Za-z_][\w.-]{0,63}$/), z.json())
      .optional()
      .describe("Further members of the request's body, sent as they are."),
    timeLimits: TimeLimits.prefault({}),
  })
  .meta({ id: "Settings" });
export type Settings = z.infer<typeof Settings>;

const perMillion = z.number().min(0).max(100_000);
const Day = z.iso.date();

/** What a million tokens cost, in what currency, and when. */
export const Price = z
  .strictObject({
    input: perMillion,
    output: perMillion,
    cachedInput: perMillion.optional().describe("Input that the endpoint had cached; the input price unless given."),
    reasoning: perMillion.optional().describe("Reasoning tokens; the output price unless given."),
    perRequest: z.number().min(0).max(1000).optional(),
    currency: z
      .string()
      .regex(/^[A-Z]{3}$/, "give the three letters of a currency, as in USD")
      .default("USD"),
    usdRate: z.number().positive().optional().describe("US dollars for one unit of the currency."),
    validFrom: Day.optional(),
    validUntil: Day.optional().describe("The last day on which the price holds."),
  })
  .superRefine((price, context) => {
    if (price.currency !== "USD" && price.usdRate === undefined)
      context.addIssue({
        code: "custom",
        path: ["usdRate"],
        message: `say how many US dollars one ${price.currency} is`,
      });
    if (price.validFrom !== undefined && price.validUntil !== undefined && price.validFrom > price.validUntil)
      context.addIssue({ code: "custom", path: ["validUntil"], message: "is before validFrom" });
  })
  .meta({ id: "Price" });
export type Price = z.infer<typeof Price>;
/** One price, or several of which each holds for its own time. */
export const Prices = z.union([Price, z.array(Price).min(1).max(50)]).meta({ id: "Prices" });
export type Prices = z.infer<typeof Prices>;

const httpUrl = z.url({ protocol: /^https?$/, error: "must be an http or https address" });

/** What an endpoint that is reached over HTTP needs, whatever its protocol. */
const reached = {
  baseUrl: httpUrl.describe("With its /v1 and without the operation, as in http://localhost:9100/v1"),
  keyVariable: z
    .string()
    .regex(/^[A-Z][A-Z0-9_]*$/, "give the name of an environment variable, as in MARRAM_KEY, not the key itself")
    .max(100)
    .optional(),
  concurrency: z.int().min(1).max(256).default(2).describe("Requests in flight at once."),
  requestsPerMinute: z.int().min(1).max(100_000).optional(),
  tokensPerMinute: z.int().min(1).max(1_000_000_000).optional(),
};

/** How a model is reached. A protocol more does not compile until everything that hangs on it is there. */
export const Protocol = z.enum(["chat-completions", "messages", "by-hand"]);
export type Protocol = z.infer<typeof Protocol>;
/** The protocols that requests are sent by. */
export const ReachedProtocol = Protocol.exclude(["by-hand"]);
export type ReachedProtocol = z.infer<typeof ReachedProtocol>;

export const PROTOCOL_LABELS: Readonly<Record<Protocol, string>> = {
  "chat-completions": "Chat-completions endpoint",
  messages: "Messages endpoint",
  "by-hand": "By hand",
};

/** Where a model is reached. Keys are named, never given: the value is read when it is needed. */
export const EndpointReference = z
  .discriminatedUnion("protocol", [
    z.strictObject({ protocol: z.literal("chat-completions"), ...reached }),
    z.strictObject({ protocol: z.literal("messages"), ...reached }),
    z.strictObject({ protocol: z.literal("by-hand") }),
  ])
  .meta({ id: "EndpointReference" });
export type EndpointReference = z.infer<typeof EndpointReference>;

export const EntrantInput = z
  .strictObject({
    key: Key,
    name: z.string().trim().min(1).max(60),
    maker: z.string().trim().max(60).default(""),
    aliases: z
      .array(z.string().trim().min(3).max(60))
      .max(20)
      .default([])
      .describe("Other names it may tell itself by."),
    predecessor: Key.optional().describe("The older entrant of the same line."),
    endpoint: EndpointReference,
    model: z.string().trim().min(1).max(200).describe("The model id that is sent to the endpoint."),
    settings: Settings.prefault({}),
    prices: Prices.optional(),
  })
  .meta({ id: "EntrantInput" });
export type EntrantInput = z.infer<typeof EntrantInput>;

/** The part of an entrant that its answers depend on: a change of it makes a new version. */
export const EntrantSetUp = z
  .object({ endpoint: EndpointReference, model: z.string(), settings: Settings })
  .meta({ id: "EntrantSetUp" });
export type EntrantSetUp = z.infer<typeof EntrantSetUp>;

/** An entrants file: see docs/formats/entrants.md. */
export const EntrantsDefinition = z
  .strictObject({
    format: z.literal("tourney-entrants/1"),
    sample: z.boolean().default(false),
    entrants: z.array(EntrantInput).min(1).max(200),
  })
  .superRefine(({ entrants }, context) => {
    entrants.forEach((entrant, index) => {
      if (entrants.findIndex((other) => other.key === entrant.key) < index) {
        context.addIssue({
          code: "custom",
          path: ["entrants", index, "key"],
          message: `"${entrant.key}" is used twice`,
        });
      }
      if (entrant.predecessor === entrant.key) {
        context.addIssue({ code: "custom", path: ["entrants", index, "predecessor"], message: "names itself" });
      }
    });
  })
  .meta({ id: "EntrantsDefinition" });
export type EntrantsDefinition = z.infer<typeof EntrantsDefinition>;

export const Entrant = z
  .object({
    id: Id,
    ...EntrantInput.shape,
    glyph: z.int().min(0).max(15).describe("Index into the fixed set of hues and glyphs."),
    sample: z.boolean(),
    versionId: Id,
    version: z.int(),
    versions: z.int().describe("How many set-ups it has had."),
    retiredAt: Instant.nullable(),
    generations: z.int(),
    keyPresent: z.boolean().nullable().describe("Whether the named key is set; null where none is named."),
    createdAt: Instant,
  })
  .meta({ id: "Entrant" });
export type Entrant = z.infer<typeof Entrant>;

export const EntrantsImport = z.strictObject({ yaml: YamlText }).meta({ id: "EntrantsImport" });
export const EntrantsImportResult = z
  .object({ entrants: z.array(Entrant), created: z.int(), changed: z.int(), unchanged: z.int() })
  .meta({ id: "EntrantsImportResult" });
export type EntrantsImportResult = z.infer<typeof EntrantsImportResult>;

/** The versions of an entrant, oldest first; answers keep the one they were made with. */
export const EntrantVersions = z
  .array(
    z.object({
      id: Id,
      number: z.int(),
      content: EntrantSetUp,
      generations: z.int(),
      isPresent: z.boolean().describe("Whether the entrant is set up like this now."),
      createdAt: Instant,
    }),
  )
  .meta({ id: "EntrantVersions" });
export type EntrantVersions = z.infer<typeof EntrantVersions>;

export const ConnectionTest = z
  .object({
    ok: z.boolean(),
    latencyMs: z.number(),
    models: z.array(z.string()),
    reportedModel: z.string().nullable(),
    error: z.object({ what: z.string(), why: z.string(), remedy: z.string() }).nullable(),
  })
  .meta({ id: "ConnectionTest" });
export type ConnectionTest = z.infer<typeof ConnectionTest>;
