import { writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { API } from "@tourney/core/contract";
import { extractArtifact, findAdmissions, findFacts, findShownLeaks, joinParts } from "@tourney/core/extraction";
import type { bundleComponent } from "../entries/bundle-component.js";
import type { FoundAnswers } from "../entries/read-answers.js";
import { tellFirst } from "../entries/tell-first.js";
import type { PageOrder } from "../exhibit/make-page.js";

/** Answers as they are handed from process to process: each text in a file, so that all of them are never held at once. */
export interface SentAnswers extends Pick<FoundAnswers, "refused"> {
  answers: (Omit<FoundAnswers["answers"][number], "text"> & { file: string })[];
}

const loadYaml = () => Promise.all([import("../suites/read-yaml.js"), import("@tourney/core/contract")]);

/**
 * Everything that cuts up what others wrote. Each takes one argument and gives what can be sent between processes. They run in
 * processes of their own (see `readers.ts`): whatever a text is made of, nobody who asks the server for something else waits for it. What not every
 * reading needs is loaded by the one that does: together it takes a second, for which somebody may be waiting.
 */
export const READINGS = {
  extract: ({
    answer,
    options,
  }: {
    answer: string | readonly string[];
    options: Parameters<typeof extractArtifact>[1];
  }) => extractArtifact(answer, options),
  join: (parts: readonly string[]) => joinParts(parts),
  findFacts: ({
    files,
    options,
  }: {
    files: Parameters<typeof findFacts>[0];
    options: Parameters<typeof findFacts>[1];
  }) => findFacts(files, options),
  findShownLeaks: ({ text, names }: { text: string; names: Parameters<typeof findShownLeaks>[1] }) =>
    findShownLeaks(text, names),
  findAdmissions: (answer: string) => findAdmissions(answer),
  bundle: async ({ files, entry }: { files: Parameters<typeof bundleComponent>[0]; entry: string }) =>
    (await import("../entries/bundle-component.js")).bundleComponent(files, entry),
  /** What was changed in files, as one patch; empty where nothing was. */
  compareFiles: async (files: readonly { path: string; before: string; text: string }[]) => {
    const { createTwoFilesPatch } = await import("diff");
    return files
      .filter(({ before, text }) => before !== text)
      .map(({ path, before, text }) => createTwoFilesPatch(path, path, before, text))
      .join("\n");
  },
  suite: async (yaml: string) => {
    const [{ readYaml }, { SuiteDefinition }] = await loadYaml();
    return readYaml(SuiteDefinition, yaml, "The suite file");
  },
  entrants: async (yaml: string) => {
    const [{ readYaml }, { EntrantsDefinition }] = await loadYaml();
    return readYaml(EntrantsDefinition, yaml, "The entrants file");
  },
  /** The answers of a folder, or of a zip or JSONL file, whose name tells which of them it is. Their texts are put into a folder. */
  answers: async ({ path, name, into }: { path: string; name: string; into: string }): Promise<SentAnswers> => {
    const { readAnswersPath } = await import("../entries/read-answers.js");
    const { answers, refused } = await readAnswersPath(path, name);
    const sent: SentAnswers = { answers: [], refused: tellFirst(refused) };
    for (const [index, { text, ...place }] of answers.entries()) {
      const file = join(into, `${index}.txt`);
      await writeFile(file, text);
      sent.answers.push({ ...place, file });
    }
    return sent;
  },
  /** A long body of a request, by the schema of its operation. */
  body: async ({ name, bytes }: { name: keyof typeof API; bytes: Uint8Array }): Promise<unknown> => {
    const [{ parseInput, parseJson }, contract] = await Promise.all([
      import("../http/parse-input.js"),
      import("@tourney/core/contract"),
    ]);
    return parseInput(contract.API[name].body, parseJson(bytes));
  },
  page: async (order: PageOrder) => (await import("../exhibit/make-page.js")).makePage(order),
  ballots: async (path: string) => (await import("../imports/read-ballots.js")).readBallots(path),
};

type Readings = typeof READINGS;
export type ReadingName = keyof Readings;
export type Given<Name extends ReadingName> = Parameters<Readings[Name]>[0];
export type Read<Name extends ReadingName> = Awaited<ReturnType<Readings[Name]>>;
