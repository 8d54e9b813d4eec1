import type { ServerResponse } from "node:http";
import { API, WallAnswer } from "@tourney/core/contract";
import { pino } from "pino";
import { beforeEach, expect, it, onTestFinished } from "vitest";
import type { Client } from "../../test-support/client.js";
import { sendStream } from "../../test-support/fake-endpoint.js";
import { ANSWER } from "../../test-support/scenario.js";
import { signIn } from "../../test-support/sign-in.js";
import { withRuns } from "../../test-support/with-runs.js";
import { Changes } from "../changes/changes.js";
import { WallMemory } from "./wall-memory.js";

const { edition, enter, finish, server, start } = withRuns();
const answer = (response: ServerResponse) => sendStream(response, ANSWER);
let lead: Client;
let entrants: string[];

beforeEach(async () => {
  lead = await signIn(server());
  entrants = [];
  for (let i = 0; i < 2; i++) {
    const { entrantId } = await enter(answer);
    await finish((await start(entrantId, {}, 4)).id);
    entrants.push(entrantId);
  }
  // Another process is told of later than it has committed; what a request reads waits for it.
  await expect.poll(async () => (await ask()).cells.length, { timeout: 10_000 }).toBe(8);
});

const ask = async (since?: string): Promise<WallAnswer> =>
  WallAnswer.parse(
    (await lead.get(`/api/editions/${edition().id}/wall${since === undefined ? "" : `?since=${since}`}`)).body,
  );
const ofPrompt = (index: number) =>
  `wording_id = (SELECT wording_id FROM prompts WHERE id = '${edition().promptIds[index]!}')`;
const places = (cells: { promptId: string; entrantId?: string }[]) =>
  cells.map(
    ({ promptId, entrantId }) => `${edition().promptIds.indexOf(promptId)} ${entrants.indexOf(entrantId ?? "")}`,
  );

it("sends the cells that are others than in the wall that is held, and no more", async () => {
  const held = await ask();
  expect(held.since).toBeNull();
  expect(await ask(held.cursor)).toMatchObject({ since: held.cursor, cursor: held.cursor, cells: [], emptied: [] });
  await server().db.execute(
    `UPDATE generations SET reported_model = 'another-one' WHERE entrant_id = $1 AND ${ofPrompt(2)}`,
    [entrants[1]],
  );
  const sent = await ask(held.cursor);
  expect(sent.since).toBe(held.cursor);
  expect(places(sent.cells)).toEqual(["2 1"]);
  expect(sent.cells[0]).toMatchObject({ mismatch: true });
  // Whoever holds the newer wall is sent nothing, whoever holds the older the same.
  expect((await ask(sent.cursor)).cells).toEqual([]);
  expect((await ask(held.cursor)).cells).toEqual(sent.cells);
});

it("is made and packed once for all who hold none of it, until it changes", async () => {
  const changes = new Changes({ pool: server().pool, log: pino({ level: "silent" }) });
  const walls = new WallMemory({ wall: server().services.wall, changes });
  onTestFinished(() => changes.close());
  const read = () => walls.get(edition().id, API.getWall.query.parse({}));
  const readText = async () => WallAnswer.parse(JSON.parse(await (await read()).getText()));
  await expect.poll(async () => (await read()) === (await read()), { timeout: 10_000 }).toBe(true);
  const before = await read();
  expect((await readText()).cells).toEqual((await ask()).cells);
  await server().db.execute("UPDATE generations SET reported_model = 'another-one' WHERE entrant_id = $1", [
    entrants[0],
  ]);
  await expect.poll(async () => (await read()) === before, { timeout: 10_000 }).toBe(false);
  expect((await readText()).cells).toEqual((await ask()).cells);
});

it("tells of cells that are not there any more, and of those that come back", async () => {
  const held = await ask();
  await server().db.execute(`UPDATE generations SET superseded_at = now() WHERE entrant_id = $1 AND ${ofPrompt(0)}`, [
    entrants[0],
  ]);
  const gone = await ask(held.cursor);
  expect(gone.cells).toEqual([]);
  expect(gone.emptied).toEqual([
    {
      promptId: edition().promptIds[0],
      versionId: held.cells.find(({ entrantId }) => entrantId === entrants[0])!.versionId,
    },
  ]);
  await server().db.execute("UPDATE generations SET superseded_at = NULL WHERE entrant_id = $1", [entrants[0]]);
  const back = await ask(gone.cursor);
  expect(places(back.cells)).toEqual(["0 0"]);
  expect(back.emptied).toEqual([]);
});

it("sends all of it to whoever holds a wall that the server does not know", async () => {
  const whole = await ask();
  for (const cursor of ["other.1", "", `${whole.cursor.split(".")[0]!}.999999`, "%00"])
    expect(await ask(cursor)).toMatchObject({ since: null, cells: whole.cells });
});

it("is put together from what is sent to what the database holds, whatever changes", async () => {
  let { cells, cursor } = await ask();
  const changes = [
    () => server().db.execute(`UPDATE entries SET verdict = 'truncated' WHERE id = $1`, [cells[3]!.entryId]),
    () =>
      server().db.execute(
        `UPDATE entries SET verdict = 'refusal' WHERE generation_id IN (SELECT id FROM generations g WHERE ${ofPrompt(0)} OR ${ofPrompt(1)})`,
      ),
    () => server().db.execute("UPDATE entrants SET name = 'Another name' WHERE id = $1", [entrants[0]]),
    () => server().db.execute(`DELETE FROM renders WHERE entry_id = $1`, [cells[5]!.entryId]),
    () => server().db.execute(`UPDATE generations SET off_task = 'a cat' WHERE ${ofPrompt(1)}`),
    async () => finish((await start(entrants[0]!, { takes: 2 }, 4)).id),
  ];
  for (const change of changes) {
    await change();
    const sent = await ask(cursor);
    const place = ({ promptId, versionId }: { promptId: string; versionId: string }) => `${promptId} ${versionId}`;
    const joined = new Map(cells.map((cell) => [place(cell), cell]));
    for (const emptied of sent.emptied) joined.delete(place(emptied));
    for (const cell of sent.cells) joined.set(place(cell), cell);
    ({ cursor } = sent);
    cells = [...joined.values()];
    const read = await server().services.wall.getWall(edition().id);
    expect(new Set(cells.map((cell) => JSON.stringify(cell)))).toEqual(
      new Set(WallAnswer.shape.cells.parse(read.cells).map((cell) => JSON.stringify(cell))),
    );
    expect(sent.entrants.map(({ name }) => name)).toEqual(read.entrants.map(({ name }) => name));
  }
});
