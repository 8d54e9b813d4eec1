import { listNaturalPairs } from "@tourney/core/compare";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { byHand, makeEntries, PAGE, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { CompareRepository } from "./repository.js";

const VARIANT = `\n  - { key: quay-hinted, title: Hinted, kind: game, summary: Play., variantOf: { prompt: quay, change: a hint }, text: Build quay with care., motion: true, watchpoints: [It works] }`;

let server: TestServer;
let editionId: string;
beforeAll(async () => {
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("quay", "mole") + VARIANT);
  editionId = edition.id;
  await makeEntries(server, edition, ["gorse", "heath"]);
  const successor = { ...byHand("gorse-2"), predecessor: "gorse" };
  await server.services.entrants.add(successor);
  for (const take of [1, 2]) {
    const text = `\`\`\`html\n${PAGE.replace("A page", `Take ${take}`)}\n\`\`\``;
    await server.services.entries.addHandAnswer(editionId, { promptKey: "quay", entrantKey: "gorse-2", take, text });
  }
});
afterAll(() => server.close());

async function findEntry(promptKey: string, entrantKey: string, take = 1): Promise<string> {
  const [row] = await server.db.select(
    z.object({ id: z.uuid() }),
    `SELECT e.id FROM entries e JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id
     JOIN prompts q ON q.wording_id = g.wording_id WHERE q.key = $1 AND n.key = $2 AND g.take = $3`,
    [promptKey, entrantKey, take],
  );
  return row!.id;
}

describe("what an entry can be put beside", () => {
  it("is every entry of its prompt and of the prompt's variants, and none of another prompt", async () => {
    const own = await findEntry("quay", "gorse");
    const found = await server.services.compare.listComparable(own, editionId);
    expect(found.filter(({ isSamePrompt }) => isSamePrompt)).toHaveLength(4);
    expect(found.filter(({ isSamePrompt }) => !isSamePrompt).map(({ promptTitle }) => promptTitle)).toEqual([
      "Hinted",
      "Hinted",
    ]);
    expect(found.map(({ entryId }) => entryId)).not.toContain(await findEntry("mole", "gorse"));
    // From the variant's side the prompt itself is the variant.
    const hinted = await server.services.compare.listComparable(await findEntry("quay-hinted", "gorse"), null);
    expect(hinted.find(({ entryId }) => entryId === own)?.isSamePrompt).toBe(false);
  });

  it("is enough to find the pairs that lie nearest", async () => {
    const own = await findEntry("quay", "gorse-2");
    const found = await server.services.compare.listComparable(own, editionId);
    const pairs = listNaturalPairs(
      found.find(({ entryId }) => entryId === own)!,
      found,
    );
    expect(Object.fromEntries(pairs.map(({ key, entryIds }) => [key, entryIds]))).toEqual({
      predecessor: [own, await findEntry("quay", "gorse")],
      takes: [own, await findEntry("quay", "gorse-2", 2)],
    });
  });

  it("has an answer that has just come", async () => {
    const own = await findEntry("quay", "heath");
    const list = async () =>
      (await server.services.compare.listComparable(own, editionId)).map(({ entryId }) => entryId);
    const before = await list();
    const text = `\`\`\`html\n${PAGE.replace("A page", "Take 3")}\n\`\`\``;
    await server.services.entries.addHandAnswer(editionId, { promptKey: "quay", entrantKey: "gorse-2", take: 3, text });
    expect(await list()).toEqual(expect.arrayContaining([...before, await findEntry("quay", "gorse-2", 3)]));
  });

  it("counts the ballots on that prompt, from either side", async () => {
    const { panels, booth } = server.services;
    const panel = await panels.add({ editionId, title: "Friends", quota: 30, message: "" });
    const token = panel.url.split("/").at(-1)!;
    const caller = { voterToken: null, isLead: false, address: "192.0.2.1" };
    const { newToken } = await booth.join(token, caller, { name: "", sample: false });
    for (;;) {
      const [bout] = (await booth.getQueue(token, newToken)).bouts;
      if (!bout) break;
      await booth.cast(bout.token, () => newToken, {
        ...{ lean: -1, leftWorks: true, rightWorks: true, reasons: [], note: "", dwellMs: 1000 },
        ...{ leftTouched: true, rightTouched: true, seenWith: null },
      });
    }
    const found = await server.services.compare.listComparable(await findEntry("quay", "gorse"), editionId);
    const ofQuay = found.filter(({ isSamePrompt }) => isSamePrompt);
    const sum = (key: "won" | "lost" | "even") => ofQuay.reduce((total, entry) => total + entry[key], 0);
    expect(sum("won")).toBeGreaterThan(0);
    expect([sum("won"), sum("even")]).toEqual([sum("lost"), 0]);
  });

  it("counts no ballot that was voided, on a bout of another contest, or on one that was shown a second time", async () => {
    const compare = new CompareRepository(server.db);
    const Bout = z.object({ id: z.uuid(), left: z.uuid(), right: z.uuid() });
    const [bout] = await server.db.select(
      Bout,
      `SELECT o.id, o.left_entry_id AS left, o.right_entry_id AS right FROM bouts o JOIN ballots b ON b.bout_id = o.id
       JOIN prompts q ON q.id = o.prompt_id WHERE q.key = 'quay' AND b.lean = -1 AND NOT o.is_repeat LIMIT 1`,
    );
    const { id, left, right } = bout!;
    const read = async () => {
      const found = new Map((await compare.listComparable(left, editionId)).map((entry) => [entry.entryId, entry]));
      return [left, right].map((side) => [found.get(side)!.won, found.get(side)!.lost, found.get(side)!.even]);
    };
    const counted = await read();
    const [[won, lost, even], [wonRight, lostRight, evenRight]] = counted as [
      [number, number, number],
      [number, number, number],
    ];
    const without = [
      [won - 1, lost, even],
      [wonRight, lostRight - 1, evenRight],
    ];
    const evenly = [
      [won - 1, lost, even + 1],
      [wonRight, lostRight - 1, evenRight + 1],
    ];
    const VOIDED =
      "UPDATE ballots SET voided_at = now(), void_reason = 'to see', voided_by = 'lead' WHERE bout_id = $1";
    const RESTORED = "UPDATE ballots SET voided_at = NULL, void_reason = NULL, voided_by = NULL WHERE bout_id = $1";
    // What a bout is has been settled before its ballot comes.
    const before = (change: string) => [VOIDED, `UPDATE bouts SET ${change} WHERE id = $1`, RESTORED];
    const change = async (statements: string[]) => {
      for (const statement of statements) await server.db.execute(statement, [id]);
      return read();
    };
    for (const [there, back, expected] of [
      [[VOIDED], [RESTORED], without],
      [before("contest = 'turns'"), before("contest = 'entrants'"), without],
      [before("is_repeat = true"), before("is_repeat = false"), without],
      [["UPDATE ballots SET lean = 0 WHERE bout_id = $1"], ["UPDATE ballots SET lean = -1 WHERE bout_id = $1"], evenly],
    ] as const) {
      expect(await change([...there]), there.join("; ")).toEqual(expected);
      expect(await change([...back]), back.join("; ")).toEqual(counted);
    }
  });

  it("is refused for an entry that is not there", async () => {
    const nowhere = "00000000-0000-4000-8000-000000000001";
    await expect(server.services.compare.listComparable(nowhere, null)).rejects.toMatchObject({ code: "NOT_FOUND" });
  });
});
