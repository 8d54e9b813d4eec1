import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { FindingRule, type Recording, RecordingPlan } from "@tourney/core/contract";
import type { Shelf } from "@tourney/store";
import { parse, stringify } from "yaml";
import * as z from "zod";
import { recordForTest } from "./record-for-test.js";

/** The hand-written pages of the demo's made-up models, and the list of what each is to show when it is recorded. */
const ROOT = join(import.meta.dirname, "../../..");
const EXHIBITS = join(ROOT, "packages/stand-in-model/exhibits");
const SAMPLES_FILE = join(EXHIBITS, "samples.yaml");

/** What a recording of a sample shows. */
export const Expected = z.strictObject({
  works: z.boolean().describe("It neither crashes, hangs nor leaves, throws nothing, and is not blank."),
  findings: z.array(FindingRule).describe("Each rule once, in the order of the alphabet."),
});
export type Expected = z.infer<typeof Expected>;

/** By prompt and page, as in `lock-keeper` and `campion-7.mended`. */
export const SampleList = z.record(z.string(), z.record(z.string(), Expected));
export const readSampleList = (): z.infer<typeof SampleList> =>
  SampleList.parse(parse(readFileSync(SAMPLES_FILE, "utf8")));

const HEAD =
  "# What the recorder finds on each sample: `npm run samples` compares, and `npm run samples -- --write` writes it.\n";
export const writeSampleList = (list: z.infer<typeof SampleList>): void =>
  writeFileSync(SAMPLES_FILE, HEAD + stringify(list, { lineWidth: 120 }));

const Suite = z.object({
  prompts: z.array(
    z.looseObject({
      key: z.string(),
      kind: z.string(),
      seconds: z.number().default(6),
      motion: z.boolean(),
      walkthrough: z.array(z.unknown()).default([]),
      starterFiles: z.array(z.object({ path: z.string(), text: z.string() })).default([]),
    }),
  ),
});

/** A folder whose prompt has another key: the second turn of a prompt has samples of its own. */
const PROMPT_OF: Readonly<Record<string, string>> = { "lightship-at-sea": "lightship-cross-section" };
/** Pages that any model may write for a second take. */
const ANYBODYS = /^[a-d]$/;

export interface Sample {
  prompt: string;
  page: string;
  files: Record<string, string>;
  plan: Partial<z.input<typeof RecordingPlan>>;
}

/** Every page that is one model's own, with how it is recorded in the demo. */
export function listSamples(): Sample[] {
  const { prompts } = Suite.parse(parse(readFileSync(join(ROOT, "demo/suite.yaml"), "utf8")));
  const folders = readdirSync(EXHIBITS).filter((folder) =>
    prompts.some(({ key }) => key === (PROMPT_OF[folder] ?? folder)),
  );
  return folders.flatMap((folder) => {
    const { kind, seconds, motion, walkthrough, starterFiles } = prompts.find(
      ({ key }) => key === (PROMPT_OF[folder] ?? folder),
    )!;
    const plan = RecordingPlan.parse({
      viewport: { width: 1280, height: 800 },
      seconds,
      frames: 6,
      seed: 1,
      motionExpected: motion,
      kind,
      walkthrough,
    });
    const pages = readdirSync(join(EXHIBITS, folder))
      .filter((file) => file.endsWith(".html"))
      .map((file) => file.slice(0, -".html".length));
    return pages
      .filter((page) => !ANYBODYS.test(page))
      .map((page) => ({ prompt: folder, page, plan, files: readFiles(folder, page, starterFiles) }));
  });
}

function readFiles(
  folder: string,
  page: string,
  starterFiles: readonly { path: string; text: string }[],
): Record<string, string> {
  const at = (extension: string) => join(EXHIBITS, folder, `${page}.${extension}`);
  const text = readFileSync(at("html"), "utf8");
  const first = text.trimStart().startsWith("<svg") ? "index.svg" : "index.html";
  return {
    [first]: text,
    ...(existsSync(at("css")) ? { "style.css": readFileSync(at("css"), "utf8") } : {}),
    ...(existsSync(at("js")) ? { "script.js": readFileSync(at("js"), "utf8") } : {}),
    ...Object.fromEntries(starterFiles.map((file) => [file.path, file.text])),
  };
}

/** What counts as broken, whatever the page was meant to do. */
const BROKEN: readonly FindingRule[] = ["blank", "crashed", "exception", "hung", "navigated"];

const describeRecording = ({ outcome, findings }: Recording): Expected => {
  const rules = [...new Set(findings.map(({ rule }) => rule))].toSorted();
  return { works: outcome === "ok" && !rules.some((rule) => BROKEN.includes(rule)), findings: rules };
};

/** Records a sample as the demo does, and says what that shows. */
export async function recordSample({ files, plan }: Sample, shelf: Shelf): Promise<Expected> {
  return describeRecording(await recordForTest(files, plan, { shelf }));
}
