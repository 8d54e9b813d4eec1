import { ScoreSheetInput } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let editionId: string;
/** Entries of the first prompt by the two entrants. */
let entries: { gorse: string; heath: string };
beforeAll(async () => {
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("quay"));
  editionId = edition.id;
  await makeEntries(server, edition, ["gorse", "heath"]);
  const rows = await server.db.select(
    z.object({ key: z.string(), id: z.uuid() }),
    `SELECT n.key, e.id FROM entries e JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id`,
  );
  entries = Object.fromEntries(rows.map(({ key, id }) => [key, id])) as typeof entries;
});
afterAll(() => server.close());

const filled = (more: Partial<ScoreSheetInput> = {}): ScoreSheetInput =>
  ScoreSheetInput.parse({
    watchpoints: [
      { text: "It works", mark: "met" },
      { text: "It moves", mark: "not_met" },
      { text: "It lasts", mark: "unsure" },
    ],
    verdict: "part",
    marks: 6,
    note: "The gate sticks.\u0000",
    tags: ["favourite"],
    isBlind: false,
    ...more,
  });

/** One voter prefers this entry wherever it stands. */
async function voteFor(entryId: string): Promise<void> {
  const { panels, booth } = server.services;
  const panel = await panels.add({ editionId, title: "Friends", quota: 5, message: "" });
  const token = panel.url.split("/").at(-1)!;
  const caller = { voterToken: null, isLead: false, address: "192.0.2.1" };
  const { newToken } = await booth.join(token, caller, { name: "", sample: false });
  const [bout] = (await booth.getQueue(token, newToken)).bouts;
  const [sides] = await server.db.select(
    z.object({ left: z.uuid() }),
    `SELECT left_entry_id AS "left" FROM bouts WHERE token = $1`,
    [bout!.token],
  );
  await booth.cast(bout!.token, () => newToken, {
    ...{ lean: sides!.left === entryId ? -2 : 2, leftWorks: true, rightWorks: true, reasons: [], note: "" },
    ...{ dwellMs: 1000, leftTouched: true, rightTouched: true, seenWith: null },
  });
}

describe("score sheets", () => {
  it("stand apart by judge, one for each, and never touch a rating", async () => {
    const { sheets, standings } = server.services;
    await sheets.save(entries.gorse, "Ines", filled());
    await sheets.save(entries.gorse, "Bo", filled({ verdict: "fail", marks: null }));
    const again = await sheets.save(entries.gorse, "Ines", filled({ verdict: "pass", tags: [] }));
    expect(again).toMatchObject({ judge: "Ines", verdict: "pass", marks: 6, tags: [] });
    const listed = await sheets.list(entries.gorse);
    expect(listed.map(({ judge, verdict }) => [judge, verdict])).toEqual([
      ["Ines", "pass"],
      ["Bo", "fail"],
    ]);
    // A byte that PostgreSQL cannot keep costs nothing but itself.
    expect(listed[0]!.note.startsWith("The gate sticks.")).toBe(true);
    expect((await standings.getStandings(editionId)).ballots).toBe(0);
  });

  it("are blind only when they were blind each time", async () => {
    const { sheets } = server.services;
    expect((await sheets.save(entries.heath, "Una", filled({ isBlind: true }))).isBlind).toBe(true);
    expect((await sheets.save(entries.heath, "Una", filled({ isBlind: true, marks: 7 }))).isBlind).toBe(true);
    expect((await sheets.save(entries.heath, "Una", filled({ isBlind: false }))).isBlind).toBe(false);
    expect((await sheets.save(entries.heath, "Una", filled({ isBlind: true }))).isBlind).toBe(false);
  });

  it("are tallied with the place of their entry, and compared with what voters preferred", async () => {
    const { sheets } = server.services;
    await sheets.save(entries.heath, "Ines", filled({ verdict: "fail" }));
    await sheets.save(entries.heath, "Bo", filled({ verdict: "pass" }));
    await voteFor(entries.gorse);
    const { sheets: judged, agreement } = await sheets.getJudging(editionId);
    const own = judged.find(({ judge, entryId }) => judge === "Ines" && entryId === entries.gorse);
    expect(own).toMatchObject({ take: 1, turn: 1, mends: 0, verdict: "pass", met: 1, judgedWatchpoints: 2 });
    expect(agreement).toEqual([
      { judge: "Bo", pairs: 1, agreed: 0 },
      { judge: "Ines", pairs: 1, agreed: 1 },
      { judge: "Una", pairs: 0, agreed: 0 },
    ]);
  });

  it("can be taken away, and are refused on an entry that is not there", async () => {
    const { sheets } = server.services;
    expect(await sheets.remove(entries.heath, "Una")).toEqual({ removed: true });
    expect(await sheets.remove(entries.heath, "Una")).toEqual({ removed: false });
    const nowhere = "00000000-0000-4000-8000-000000000001";
    await expect(sheets.save(nowhere, "Ines", filled())).rejects.toThrow(TourneyError);
    await expect(sheets.list(nowhere)).rejects.toMatchObject({ code: "NOT_FOUND" });
  });
});
