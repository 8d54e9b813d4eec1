import { describe, expect, it } from "vitest";
import { sendStream } from "../../test-support/fake-endpoint.js";
import { ANSWER, markRecorded, suiteYaml } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";

const { enter, finish, server } = withRuns();
const services = () => server().services;

let numbered = 0;
/** A suite of five prompts of its own, answered once by one entrant. */
async function answered() {
  const key = `suite-${++numbered}`;
  const yaml = suiteYaml("one", "two", "three", "four", "five").replace("key: a-suite", `key: ${key}`);
  const { edition } = await services().suites.importSuite(yaml);
  const { entrantId } = await enter((response) => sendStream(response, ANSWER));
  const run = await services().runs.start({
    editionId: edition.id,
    promptIds: edition.prompts.map(({ id }) => id),
    entrantIds: [entrantId],
  });
  await finish(run.id);
  await markRecorded(server());
  return { yaml, edition, entrantId };
}

const plan = async (editionId: string, entrantId: string) => {
  const { prompts } = await services().suites.getEdition(editionId);
  const wanted = { editionId, promptIds: prompts.map(({ id }) => id), entrantIds: [entrantId] };
  const grid = await services().wall.getGrid(editionId);
  const column = grid.entrants.findIndex(({ id }) => id === entrantId);
  const missing = grid.prompts.filter((_, row) => grid.there[row]![column] === 0).map(({ title }) => title);
  return { missing, count: (await services().runs.plan(wanted)).missing };
};

describe("the next edition of a suite", () => {
  it("asks again for the one prompt in which a word was changed, and keeps the others' answers", async () => {
    const { yaml, edition, entrantId } = await answered();
    const { edition: next } = await services().suites.importSuite(yaml.replace("Build three.", "Build three well."));
    expect(await plan(next.id, entrantId)).toEqual({ missing: ["three"], count: 1 });
    const wall = await services().wall.getWall(next.id);
    expect(wall.cells.map(({ state }) => state)).toEqual(["recorded", "recorded", "recorded", "recorded"]);
    // The same entries, whichever edition is looked at.
    const former = await services().wall.getWall(edition.id);
    expect(former.cells.map(({ entryId }) => entryId)).toEqual(
      expect.arrayContaining(wall.cells.map(({ entryId }) => entryId)),
    );
    const difference = await services().suites.compare(edition.id, next.id);
    expect(difference).toMatchObject({ kept: 4, changed: [{ key: "three", parts: ["wording"] }] });
  });

  it("may have a variant more, which wants its own row only", async () => {
    const { yaml, entrantId } = await answered();
    const variant = `\n  - { key: one-hinted, title: Hinted, kind: game, summary: Play., variantOf: { prompt: one, change: a hint }, text: Build one with care., motion: true, watchpoints: [It works] }`;
    const { edition: next } = await services().suites.importSuite(`${yaml}${variant}`);
    expect(await plan(next.id, entrantId)).toEqual({ missing: ["Hinted"], count: 1 });
  });

  it("with another title asks for nothing and records nothing anew", async () => {
    const { yaml, entrantId } = await answered();
    const { edition: next } = await services().suites.importSuite(yaml.replace("title: two", "title: Two renamed"));
    expect(await plan(next.id, entrantId)).toEqual({ missing: [], count: 0 });
    const wall = await services().wall.getWall(next.id);
    expect(wall.prompts.map(({ title }) => title)).toContain("Two renamed");
    expect(wall.cells.every(({ stale }) => stale === null)).toBe(true);
  });

  it("with another walkthrough asks for nothing, and marks the recording as stale", async () => {
    const { yaml, entrantId } = await answered();
    const changed = yaml.replace("text: Build four.,", "text: Build four., walkthrough: [{ atMs: 100, key: a }],");
    const { edition: next } = await services().suites.importSuite(changed);
    expect(await plan(next.id, entrantId)).toEqual({ missing: [], count: 0 });
    const wall = await services().wall.getWall(next.id);
    const four = wall.prompts.find(({ key }) => key === "four")!.id;
    expect(wall.cells.filter(({ stale }) => stale !== null).map(({ promptId, stale }) => [promptId, stale])).toEqual([
      [four, "recipe"],
    ]);
    expect((await services().renders.getQueue(next.id)).stale).toBe(1);
    expect(await services().renders.renderAgain({ editionId: next.id, only: "stale" })).toEqual({ queued: 1 });
  });

  it("keeps a prompt's answers also when it is given another key", async () => {
    const { yaml, entrantId } = await answered();
    const { edition: next } = await services().suites.importSuite(yaml.replace("key: five", "key: fifth"));
    expect(await plan(next.id, entrantId)).toEqual({ missing: [], count: 0 });
  });

  it("is refused when two of its prompts send models the same, and nothing changes", async () => {
    const { yaml, edition } = await answered();
    const twin = yaml.replace("Build two.", "Build one.");
    await expect(services().suites.importSuite(twin)).rejects.toThrow(
      'The prompts "one" and "two" send models the very same request.',
    );
    await expect(services().suites.preview(twin)).rejects.toThrow("the very same request");
    const editions = await services().suites.listEditions();
    expect(editions.filter(({ suiteKey }) => suiteKey === edition.suiteKey)).toHaveLength(1);
  });
});
