import { type Edition, EntrantInput, Recording, RENDERER_VERSION } from "@tourney/core/contract";
import type { TestServer } from "./test-server.js";

/** A suite of one prompt a key, as a file's text. */
export const suiteYaml = (...keys: string[]): string =>
  [
    "format: tourney-suite/1",
    "key: a-suite",
    "title: A suite",
    "prompts:",
    ...keys.map(
      (key) =>
        `  - { key: ${key}, title: ${key}, kind: game, summary: Play., text: Build ${key}., motion: true, watchpoints: [It works, { text: It moves, evidence: motion }] }`,
    ),
  ].join("\n");

export const entrantInput = (key: string, baseUrl: string, more: object = {}): EntrantInput =>
  EntrantInput.parse({
    key,
    name: `Name of ${key}`,
    endpoint: { protocol: "chat-completions", baseUrl },
    model: "the-model",
    prices: { input: 10, output: 20 },
    ...more,
  });

export const byHand = (key: string): EntrantInput =>
  EntrantInput.parse({ key, name: `Name of ${key}`, endpoint: { protocol: "by-hand" }, model: key });

export const PAGE = "<!doctype html>\n<html><body><h1>A page</h1></body></html>";
export const ANSWER = `Here it is.\n\n\`\`\`html\n${PAGE}\n\`\`\`\n`;

/** What the render worker reports of a page without faults. */
export const RECORDING = Recording.parse({
  rendererVersion: RENDERER_VERSION,
  outcome: "ok",
  outcomeDetail: null,
  clock: "begin-frame",
  isolation: { sandbox: true, unprivilegedUser: true, networkNamespace: true, memory: null },
  viewport: { width: 1280, height: 800 },
  seconds: 6,
  seed: 1,
  frames: [],
  views: [],
  findings: [],
  console: [],
  requests: [],
  metrics: { wallMs: 1, motion: [], domNodes: 3 },
});

/** Entries of every prompt by entrants reached by hand, marked as recorded: enough to vote on. */
export async function makeEntries(server: TestServer, edition: Edition, entrantKeys: readonly string[]): Promise<void> {
  for (const key of entrantKeys) await server.services.entrants.add(byHand(key));
  for (const { key: promptKey } of edition.prompts) {
    for (const entrantKey of entrantKeys) {
      const text = ANSWER.replace("A page", `A page for ${promptKey}, look ${entrantKeys.indexOf(entrantKey)}`);
      await server.services.entries.addHandAnswer(edition.id, { promptKey, entrantKey, take: 1, text });
    }
  }
  await markRecorded(server);
}

/** Marks every entry as recorded. */
export async function markRecorded(server: TestServer): Promise<void> {
  await server.db.execute("UPDATE renders SET state = 'recorded', finished_at = now(), recording = $1::jsonb", [
    JSON.stringify(RECORDING),
  ]);
}

/** A page as the whole of an answer. */
export const answerWith = (page: string): string => `Here it is.\n\n\`\`\`html\n${page}\n\`\`\`\n`;
