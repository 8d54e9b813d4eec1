import { Recording, RENDERER_VERSION } from "@tourney/core/contract";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { byHand, makeEntries, RECORDING, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
let editionId: string;
beforeAll(async () => {
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("locks", "lamps"));
  editionId = edition.id;
  await makeEntries(server, edition, ["gorse", "heath"]);
  // What extraction has queued is not worked on here: the recordings are there already.
  await server.pool.query("DELETE FROM graphile_worker._private_jobs");
});
afterAll(() => server.close());

const counts = async () => {
  const { waiting, running, stale, failed } = await server.services.renders.getQueue(editionId);
  return { waiting, running, stale, failed };
};
const forget = async () => {
  await server.pool.query("DELETE FROM graphile_worker._private_jobs");
  await server.pool.query("DELETE FROM renders WHERE state = 'queued'");
};
const setRecording = (sql: string, values: unknown[] = []) =>
  server.pool.query(`UPDATE renders SET recording = ${sql} WHERE state = 'recorded'`, values);

describe("recording again", () => {
  it("takes a row, a column or all, and nothing twice", async () => {
    const prompts = (await server.services.suites.getEdition(editionId)).prompts;
    const entrants = await server.services.entrants.list();
    const { renders } = server.services;
    expect(await renders.renderAgain({ editionId, promptId: prompts[0]!.id, only: "all" })).toEqual({ queued: 2 });
    expect(await renders.renderAgain({ editionId, entrantId: entrants[0]!.id, only: "all" })).toEqual({ queued: 1 });
    expect(await renders.renderAgain({ editionId, only: "all" })).toEqual({ queued: 1 });
    expect(await renders.renderAgain({ editionId, only: "all" })).toEqual({ queued: 0 });
    expect(await counts()).toEqual({ waiting: 4, running: 0, stale: 0, failed: 0 });
    const { rows } = await server.pool.query(
      "SELECT payload->'plan'->>'kind' AS kind FROM graphile_worker._private_jobs JOIN graphile_worker._private_tasks t ON t.id = task_id WHERE identifier = 'render'",
    );
    expect(rows).toHaveLength(4);
    expect(rows[0]).toEqual({ kind: "game" });
    await forget();
  });

  it("tells recordings of an older renderer from those of this one, and makes only them anew", async () => {
    await setRecording(`jsonb_set(recording, '{rendererVersion}', '"0"')`);
    expect((await counts()).stale).toBe(4);
    const wall = await server.services.wall.getWall(editionId);
    expect(wall.cells.every(({ stale }) => stale)).toBe(true);
    expect(await server.services.renders.renderAgain({ editionId, only: "stale" })).toEqual({ queued: 4 });
    await forget();
    await setRecording(`jsonb_set(recording, '{rendererVersion}', to_jsonb($1::text))`, [RENDERER_VERSION]);
    expect(await server.services.renders.renderAgain({ editionId, only: "stale" })).toEqual({ queued: 0 });
    expect((await server.services.wall.getWall(editionId)).cells.some(({ stale }) => stale)).toBe(false);
  });

  it("makes anew what could not be made", async () => {
    await server.pool.query(
      "UPDATE renders SET state = 'failed', recording = NULL, error = 'No browser.' WHERE id = (SELECT id FROM renders LIMIT 1)",
    );
    expect(await server.services.renders.renderAgain({ editionId, only: "failed" })).toEqual({ queued: 1 });
    await forget();
  });

  it("queues nothing for an entrant that has no entries", async () => {
    await server.services.entrants.add(byHand("nobody"));
    const [nobody] = (await server.services.entrants.list()).filter(({ key }) => key === "nobody");
    expect(await server.services.renders.renderAgain({ editionId, entrantId: nobody!.id, only: "all" })).toEqual({
      queued: 0,
    });
  });
});

describe("names that a recording shows", () => {
  it("are listed with the entry, in the place of those of the recording before", async () => {
    const record = async (shownText: string) => {
      await server.services.renders.renderAgain({ editionId, only: "all" });
      const { rows } = await server.pool.query<{ id: string; entry_id: string }>(
        "SELECT id, entry_id FROM renders WHERE state = 'queued'",
      );
      await server.pool.query("DELETE FROM graphile_worker._private_jobs");
      for (const { id } of rows) {
        const recording = { ...RECORDING, shownText };
        await server.services.addJob("render-finished", { renderId: id, recording, error: null }, { key: id });
      }
      await server.runJobs();
      const { facts } = await server.services.entries.getDetail(rows[0]!.entry_id);
      return facts.leaks.map(({ text, where }) => `${text} in ${where}`);
    };
    expect(await record("Made by Name of gorse")).toEqual(["Name of gorse in screen"]);
    expect(await record("built with Name of heath")).toEqual(["Name of heath in screen"]);
    expect(await record("nothing of the kind")).toEqual([]);
  });
});

describe("what can be downloaded of a recording", () => {
  const picture = (hue: string) =>
    sharp({ create: { width: 800, height: 500, channels: 3, background: hue } })
      .webp()
      .toBuffer();
  let renderId: string;
  beforeAll(async () => {
    const files = await Promise.all(
      ["#c33", "#136", "#fc3"].map(async (hue) => `${await server.services.blobs.put(await picture(hue))}.webp`),
    );
    const frames = files.map((file, i) => ({ atMs: 33 + i * 500, sha256: "a".repeat(64), file, thumbnail: file }));
    const { rows } = await server.pool.query<{ id: string }>(
      "UPDATE renders SET recording = $1 WHERE id = (SELECT id FROM renders WHERE state = 'recorded' LIMIT 1) RETURNING id",
      [JSON.stringify(Recording.parse({ ...RECORDING, frames }))],
    );
    renderId = rows[0]!.id;
  });

  it("is the clip as one animated picture, each frame shown until the next one's time", async () => {
    const { bytes, name } = await server.services.renders.getClip(renderId);
    const { format, pages, delay, width, pageHeight } = await sharp(bytes, { animated: true }).metadata();
    expect({ format, pages, delay, width, pageHeight }).toEqual({
      format: "webp",
      pages: 3,
      delay: [500, 500, 1000],
      width: 640,
      pageHeight: 400,
    });
    expect(name).toMatch(/^l(ock|amp)s-(gorse|heath)-1\.webp$/);
  });

  it("is the strip with the recording's report", async () => {
    const { bytes } = await server.services.renders.getStrip(renderId);
    const names = [...bytes.toString("latin1").matchAll(/\d\d-\d\d\.\d{3}s\.webp|recording\.json/g)].map(
      ([name]) => name,
    );
    expect([...new Set(names)]).toEqual(["00-00.033s.webp", "01-00.533s.webp", "02-01.033s.webp", "recording.json"]);
  });

  it("is nothing of a recording that is not there", async () => {
    await expect(server.services.renders.getClip("00000000-0000-4000-8000-000000000000")).rejects.toMatchObject({
      code: "NOT_FOUND",
    });
  });
});
