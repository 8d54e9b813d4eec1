import { Recording } from "@tourney/core/contract";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { makeEntries, RECORDING, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { SampleVoter } from "./sample-voter.js";
import { createReadBout } from "./sample-voting.js";

const ENTRANTS = ["gorse", "heath", "sedge"];

let server: TestServer;
let panel: { origin: string; token: string };
beforeAll(async () => {
  server = await startTestServer({ settings: { joinsFromOnePlace: 100 } });
  const { edition } = await server.services.suites.importSuite(suiteYaml("quay", "slip", "mole"));
  await makeEntries(server, edition, ENTRANTS);
  await showDifferently();
  const { url } = await server.services.panels.add(
    { editionId: edition.id, title: "Friends", quota: 3, message: "" },
    true,
  );
  panel = { origin: server.origin, token: url.split("/").at(-1)! };
});
afterAll(() => server.close());

/** Gives the first entrant's recordings a picture that fills the window, and everybody else's an empty one. */
async function showDifferently(): Promise<void> {
  const noise = await sharp({
    create: {
      width: 320,
      height: 200,
      channels: 3,
      background: "#888",
      noise: { type: "gaussian", mean: 128, sigma: 60 },
    },
  })
    .webp({ lossless: true })
    .toBuffer();
  const empty = await sharp({ create: { width: 320, height: 200, channels: 3, background: "#fff" } })
    .webp()
    .toBuffer();
  for (const [key, picture, sha256] of ENTRANTS.map(
    (name, i) => [name, i === 0 ? noise : empty, String(i).repeat(64)] as const,
  )) {
    const thumbnail = `${await server.services.blobs.put(picture)}.webp`;
    const recording = Recording.parse({
      ...RECORDING,
      frames: [{ atMs: 0, sha256, file: thumbnail, thumbnail }],
    });
    await server.pool.query(
      `UPDATE renders r SET recording = $1::jsonb FROM entries e JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id
       WHERE e.id = r.entry_id AND n.key = $2`,
      [JSON.stringify(recording), key],
    );
  }
}

describe("a sample voter", () => {
  it("votes over HTTP on what the recordings show, and stops at the quota", async () => {
    const { demo, blobs } = server.services;
    const seen: string[] = [];
    const readBout = createReadBout({ demo, blobs });
    const voters = Array.from(
      { length: 6 },
      (_, number) =>
        new SampleVoter(panel, number, async (token) => {
          const bout = await readBout(token);
          seen.push(...Object.keys(bout ?? {}));
          return bout;
        }),
    );
    for (const voter of voters) while (await voter.vote());
    expect(voters.map(({ cast }) => cast)).toEqual(voters.map(() => 3));
    // Nothing that tells who made a page reaches a voter.
    expect(new Set(seen)).toEqual(new Set(["left", "right", "kind"]));

    const { rows } = await server.pool.query<{ key: string; won: number; lost: number }>(
      `SELECT n.key, count(*) FILTER (WHERE (b.lean > 0) = side.is_right AND b.lean <> 0)::int AS won,
         count(*) FILTER (WHERE (b.lean > 0) <> side.is_right AND b.lean <> 0)::int AS lost
       FROM ballots b JOIN bouts o ON o.id = b.bout_id
       CROSS JOIN LATERAL (VALUES (false, o.left_entry_id), (true, o.right_entry_id)) AS side(is_right, entry_id)
       JOIN entries e ON e.id = side.entry_id JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id GROUP BY 1`,
    );
    const first = rows.find(({ key }) => key === ENTRANTS[0])!;
    expect(first.won).toBeGreaterThan(8);
    expect(first.lost).toBe(0);
    const { rows: joined } = await server.pool.query("SELECT DISTINCT sample FROM voters");
    expect(joined).toEqual([{ sample: true }]);
  });
});
