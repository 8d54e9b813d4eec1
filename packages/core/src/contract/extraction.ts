import * as z from "zod";

/** Offsets in a file of the artifact, in UTF-16 units. */
const place = { file: z.string(), start: z.int(), end: z.int() };

export const ReferenceKind = z.enum([
  "script",
  "style",
  "image",
  "sound",
  "video",
  "font",
  "module",
  "data",
  "page",
  "other",
]);
export type ReferenceKind = z.infer<typeof ReferenceKind>;

/** Something local that the page refers to and the answer does not bring. */
export const MissingReference = z
  .object({ path: z.string(), kind: ReferenceKind, ...place })
  .meta({ id: "MissingReference" });
export type MissingReference = z.infer<typeof MissingReference>;

/** Something that the page loads from a public host. */
export const RemoteReference = z
  .object({
    url: z.string(),
    kind: ReferenceKind,
    library: z.string().nullable().describe("The library's package name, where the address tells it."),
    version: z.string().nullable(),
    ...place,
  })
  .meta({ id: "RemoteReference" });
export type RemoteReference = z.infer<typeof RemoteReference>;

/** A rule of the prompt that the artifact does not keep. */
export const RuleBreak = z
  .object({ rule: z.enum(["singleFile", "libraries", "framework", "language"]), message: z.string(), ...place })
  .meta({ id: "RuleBreak" });
export type RuleBreak = z.infer<typeof RuleBreak>;

/** A place where the output names its own maker or model. */
export const Leak = z
  .object({
    name: z.string().describe("The name that was looked for."),
    text: z.string().describe("As it stands in the file."),
    where: z
      .enum(["text", "title", "comment", "meta", "attribute", "console", "string", "code", "file name", "screen"])
      .describe("On the screen: seen when the page was recorded, of no file."),
    confidence: z.enum(["high", "medium", "low"]),
    ...place,
  })
  .meta({ id: "Leak" });
export type Leak = z.infer<typeof Leak>;

/** Everything that extraction tells of an artifact besides its files. */
export const ArtifactFacts = z
  .object({
    missing: z.array(MissingReference),
    remote: z.array(RemoteReference),
    ruleBreaks: z.array(RuleBreak),
    leaks: z.array(Leak),
    choices: z
      .array(z.string())
      .default([])
      .describe("The parts of the answer that could be the page, by their labels."),
  })
  .meta({ id: "ArtifactFacts" });
export type ArtifactFacts = z.infer<typeof ArtifactFacts>;
