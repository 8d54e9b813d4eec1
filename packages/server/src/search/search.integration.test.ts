import { API } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { byHand, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

const PAGE = `<!doctype html><title>Gulls</title><script>const gullCount=3;if(a<b&&wingBeat>2)flap()</script>`;

let server: TestServer;
let editionId: string;
let entryId: string;
const add = async (text: string, entrantKey: string, promptKey = "quay") => {
  const added = await server.services.entries.addHandAnswer(editionId, { promptKey, entrantKey, take: 1, text });
  return added.entryId;
};
beforeAll(async () => {
  server = await startTestServer();
  ({
    edition: { id: editionId },
  } = await server.services.suites.importSuite(suiteYaml("quay", "mole")));
  for (const key of ["gorse", "heath"]) await server.services.entrants.add(byHand(key));
  entryId = await add(`The kittiwakes circle.\n\`\`\`html\n${PAGE}\n\`\`\``, "gorse");
  await server.services.sheets.save(entryId, "Ada", {
    isBlind: false,
    watchpoints: [],
    verdict: "part",
    marks: null,
    note: "The horizon leans",
    tags: ["left out by its own words"],
  });
});
afterAll(() => server.close());

const search = (words: string) => server.services.search.search(editionId, words);

describe("a search", () => {
  it("finds prose and code of an answer by the beginnings of words, with the text around them", async () => {
    for (const words of ["kittiw", "KITTIWAKES circle", "gullcount", "wingBeat", "a<b&&wing"]) {
      const hits = await search(words);
      expect(hits.map(({ sort, entryIds }) => [sort, entryIds])).toEqual([["answer", [entryId]]]);
    }
    const [hit] = await search("wingbeat");
    expect(hit!.excerpt).toContain("if(a<b&&wingBeat>2)flap()");
    expect(hit!.title).toMatch(/gorse/i);
    expect(await search("kittiwakes absent")).toEqual([]);
  });

  it("finds entrants, prompts, and what a judge noted", async () => {
    expect((await search("heat")).map(({ sort, title }) => [sort, title])).toEqual([
      ["entrant", expect.stringMatching(/heath/i)],
    ]);
    expect((await search("mole")).map(({ sort, promptKey }) => [sort, promptKey])).toEqual([["prompt", "mole"]]);
    const [note] = await search("horizon");
    expect(note).toMatchObject({
      sort: "note",
      entryIds: [entryId],
      excerpt: expect.stringContaining("The horizon leans") as string,
    });
    expect(note!.title).toContain("Ada");
    expect(await search("own words")).toHaveLength(1);
  });

  it("takes nothing that is typed for a query of its own, and finds nothing by signs alone", async () => {
    for (const words of ["'); DROP TABLE entries; --", "!!! | & :*", "kittiwakes:* | !x", "\\", " "])
      await search(words);
    expect(await search("!!! | & :*")).toEqual([]);
    expect(API.search.query.safeParse({ words: "x".repeat(201) }).success).toBe(false);
  });

  it("keeps a very long answer whole, and finds it by what stands in its first 150,000 characters", async () => {
    const words = Array.from({ length: 100_000 }, (_, i) => `w${i}`).join(" ");
    const id = await add(`${words}\n\`\`\`html\n${PAGE.replace("Gulls", "Terns")}\n\`\`\``, "heath", "mole");
    expect((await search("w777 w778")).map(({ entryIds }) => entryIds)).toEqual([[id]]);
    expect(await search("w99999")).toEqual([]);
    expect((await server.services.entries.getDetail(id)).verdict).toBe("ok");
  });
});
