import * as z from "zod";

/** Grades of the hand-written pages, best first. */
export const GRADES = ["a", "b", "c", "d"] as const;
export type Grade = (typeof GRADES)[number];

/** How a made-up model words its answers. */
export const Habit = z.enum(["fenced", "draft-then-final", "several-files", "bare", "chatty", "reasoning"]);
export type Habit = z.infer<typeof Habit>;

const share = z.number().min(0).max(1).default(0);

/** Shares of requests on which a model does what good endpoints do not. */
export const Quirks = z.strictObject({
  busy: share.describe("Answered with 429 the first time."),
  refuses: share.describe("Declines the first time it is asked."),
  stalls: share.describe("Stops in the middle of the stream, the first time."),
  resets: share.describe("Breaks the connection in the middle of the stream, the first time."),
  stopsAtLimit: share.describe("Ends at about half of its answer, as if at its token limit."),
  namesItself: share.describe("Signs its page."),
  usesFramework: share.describe("Answers with a component though none was asked for."),
  reportsOtherModel: share.describe("Says in the answer that another model gave it."),
});
export type Quirks = z.infer<typeof Quirks>;

export const StandInModel = z.strictObject({
  id: z.string().min(1),
  name: z.string().min(1),
  maker: z.string(),
  talent: z
    .tuple([z.number().min(0), z.number().min(0), z.number().min(0), z.number().min(0)])
    .refine((weights) => weights.some((weight) => weight > 0), "at least one weight must be above 0")
    .describe("Weights of the grades a … d: how often it writes a page of that grade."),
  habit: Habit,
  tokensPerSecond: z.number().positive(),
  firstTokenMs: z.number().min(0),
  mostAtOnce: z.int().min(1).optional().describe("More requests than this at once are answered with 429."),
  quirks: Quirks.prefault({}),
});
export type StandInModel = z.infer<typeof StandInModel>;

/** A scenario file changes models by their id, or adds some. */
export const Scenario = z.strictObject({
  models: z.record(z.string(), StandInModel.omit({ id: true }).partial()),
});

const model = (parts: z.input<typeof StandInModel>): StandInModel => StandInModel.parse(parts);

/** All made up, and steered by the seed alone. */
export const MODELS: readonly StandInModel[] = [
  model({
    id: "samphire-3",
    name: "Samphire 3",
    maker: "Brinefield",
    talent: [7, 3, 0, 0],
    habit: "fenced",
    tokensPerSecond: 55,
    firstTokenMs: 900,
  }),
  model({
    id: "samphire-2",
    name: "Samphire 2",
    maker: "Brinefield",
    talent: [3, 5, 2, 0],
    habit: "fenced",
    tokensPerSecond: 45,
    firstTokenMs: 1100,
    quirks: { namesItself: 0.3, stopsAtLimit: 0.15 },
  }),
  model({
    id: "samphire-3-quick",
    name: "Samphire 3 Quick",
    maker: "Brinefield",
    talent: [1, 6, 3, 0],
    habit: "bare",
    tokensPerSecond: 140,
    firstTokenMs: 300,
    quirks: { busy: 0.1 },
  }),
  model({
    id: "marram-large",
    name: "Marram Large",
    maker: "Dune Works",
    talent: [4, 4, 2, 0],
    habit: "draft-then-final",
    tokensPerSecond: 38,
    firstTokenMs: 1400,
    quirks: { busy: 0.1 },
  }),
  model({
    id: "marram-small",
    name: "Marram Small",
    maker: "Dune Works",
    talent: [0, 3, 6, 1],
    habit: "several-files",
    tokensPerSecond: 110,
    firstTokenMs: 400,
    quirks: { usesFramework: 0.12, resets: 0.08 },
  }),
  model({
    id: "thrift-2",
    name: "Thrift 2",
    maker: "Cliffhouse",
    talent: [1, 4, 4, 1],
    habit: "chatty",
    tokensPerSecond: 90,
    firstTokenMs: 500,
  }),
  model({
    id: "campion-7",
    name: "Campion 7",
    maker: "Cliffhouse",
    talent: [5, 3, 2, 0],
    habit: "reasoning",
    tokensPerSecond: 60,
    firstTokenMs: 700,
    quirks: { refuses: 0.15, reportsOtherModel: 0.1 },
  }),
  model({
    id: "eelgrass-1",
    name: "Eelgrass 1",
    maker: "Cliffhouse",
    talent: [0, 2, 4, 4],
    habit: "bare",
    tokensPerSecond: 120,
    firstTokenMs: 350,
    mostAtOnce: 4,
    quirks: { busy: 0.25 },
  }),
];

/** The built-in models with a scenario's changes. @throws ZodError for what it cannot mean. */
export function applyScenario(scenario: unknown): StandInModel[] {
  const { models } = Scenario.parse(scenario);
  const changed = MODELS.map((known) => StandInModel.parse({ ...known, ...withoutAbsent(models[known.id] ?? {}) }));
  const added = Object.entries(models)
    .filter(([id]) => !MODELS.some((known) => known.id === id))
    .map(([id, parts]) => StandInModel.parse({ ...MODELS[0], ...withoutAbsent(parts), id, name: parts.name ?? id }));
  return [...changed, ...added];
}

const withoutAbsent = (parts: object) =>
  Object.fromEntries(Object.entries(parts).filter(([, value]) => value !== undefined));
