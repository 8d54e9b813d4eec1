import type { IncomingMessage, ServerResponse } from "node:http";
import type { RunDetail, RunRequest } from "@tourney/core/contract";
import { afterAll, afterEach, beforeAll, beforeEach } from "vitest";
import { startFakeEndpoint } from "./fake-endpoint.js";
import { entrantInput, suiteYaml } from "./scenario.js";
import { startTestServer, type TestServer } from "./test-server.js";

/** Answers one request; `attempt` counts them from 1. */
type Answer = (response: ServerResponse, attempt: number, request: IncomingMessage) => void;

const KEYS = ["one", "two", "three", "four"];

/**
 * A server for a file of tests, and for each test an edition of four prompts and entrants of its own, at endpoints that
 * answer as told. Registers the file's hooks.
 */
export function withRuns() {
  let server: TestServer;
  let edition: { id: string; promptIds: string[] };
  let numbered = 0;
  const closing: (() => Promise<void>)[] = [];
  beforeAll(async () => {
    server = await startTestServer();
  });
  beforeEach(async () => {
    // Each test words its prompts otherwise: editions that asked the same would share their answers.
    const yaml = suiteYaml(...KEYS).replaceAll("text: Build ", `text: For test ${++numbered} build `);
    const { edition: frozen } = await server.services.suites.importSuite(yaml);
    edition = { id: frozen.id, promptIds: frozen.prompts.map(({ id }) => id) };
  });
  afterEach(async () => {
    for (const close of closing.splice(0)) await close();
  });
  afterAll(() => server.close());

  return {
    server: () => server,
    edition: () => edition,
    /** Enters an entrant at an endpoint of its own. */
    enter: async (answer: Answer, more: object = {}, endpoint: object = {}) => {
      const fake = await startFakeEndpoint((request, response, attempt) => answer(response, attempt, request));
      closing.push(fake.close);
      const input = entrantInput(`entrant-${++numbered}`, fake.baseUrl, more);
      const { id } = await server.services.entrants.add({
        ...input,
        endpoint: {
          ...(input.endpoint as { protocol: "chat-completions"; baseUrl: string; concurrency: number }),
          ...endpoint,
        },
      });
      return { fake, entrantId: id };
    },
    start: (entrantId: string, more: Partial<RunRequest> = {}, prompts = 1) =>
      server.services.runs.start({
        editionId: edition.id,
        promptIds: edition.promptIds.slice(0, prompts),
        entrantIds: [entrantId],
        ...more,
      }),
    finish: async (runId: string): Promise<RunDetail> => {
      await server.runJobs();
      return server.services.runs.getDetail(runId);
    },
  };
}
