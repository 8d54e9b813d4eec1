import * as z from "zod";
import { Id, Instant, Key } from "./common.js";

/** Settings that are pinned: what is absent is not sent, so that the endpoint's own default holds. */
export const Settings = z
  .strictObject({
    temperature: z.number().min(0).max(2).optional(),
    topP: z.number().min(0).max(1).optional(),
    maxTokens: z.int().min(1).max(1_000_000).optional(),
    seed: z.int().min(0).max(2_147_483_647).optional(),
    systemPrompt: z.string().max(20_000).optional(),
    timeoutSeconds: z.int().min(1).max(3600).default(300).describe("For one whole answer."),
  })
  .meta({ id: "Settings" });
export type Settings = z.infer<typeof Settings>;

const perMillion = z.number().min(0).max(100_000);
/** US dollars for a million tokens. */
export const Prices = z.strictObject({ input: perMillion, output: perMillion }).meta({ id: "Prices" });
export type Prices = z.infer<typeof Prices>;

const httpUrl = z.url({ protocol: /^https?$/, error: "must be an http or https address" });

/** Where a model is reached. Keys are named, never given: the value is read from the environment when it is needed. */
export const EndpointReference = z
  .discriminatedUnion("protocol", [
    z.strictObject({
      protocol: z.literal("chat-completions"),
      baseUrl: httpUrl.describe("Without /chat/completions, as in http://localhost:9100/v1"),
      keyVariable: z
        .string()
        .regex(/^[A-Z][A-Z0-9_]*$/, "give the name of an environment variable, as in MARRAM_KEY, not the key itself")
        .max(100)
        .optional(),
      concurrency: z.int().min(1).max(64).default(2).describe("Requests in flight at once."),
    }),
    z.strictObject({ protocol: z.literal("by-hand") }),
  ])
  .meta({ id: "EndpointReference" });
export type EndpointReference = z.infer<typeof EndpointReference>;

export const EntrantInput = z
  .strictObject({
    key: Key,
    name: z.string().trim().min(1).max(60),
    maker: z.string().trim().max(60).default(""),
    endpoint: EndpointReference,
    model: z.string().trim().min(1).max(200).describe("The model id that is sent to the endpoint."),
    settings: Settings.prefault({}),
    prices: Prices.optional(),
  })
  .meta({ id: "EntrantInput" });
export type EntrantInput = z.infer<typeof EntrantInput>;

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
    generations: z.int(),
    keyPresent: z.boolean().nullable().describe("Whether the named key is set; null where none is named."),
    createdAt: Instant,
  })
  .meta({ id: "Entrant" });
export type Entrant = z.infer<typeof Entrant>;

export const EntrantsImport = z.strictObject({ yaml: z.string().min(1).max(1_000_000) }).meta({ id: "EntrantsImport" });
export const EntrantsImportResult = z
  .object({ entrants: z.array(Entrant), created: z.int(), unchanged: z.int() })
  .meta({ id: "EntrantsImportResult" });
export type EntrantsImportResult = z.infer<typeof EntrantsImportResult>;

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
