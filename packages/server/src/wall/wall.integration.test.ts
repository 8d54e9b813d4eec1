import type { ServerResponse } from "node:http";
import { describe, expect, it } from "vitest";
import { sendError, sendStream } from "../../test-support/fake-endpoint.js";
import { ANSWER } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";

const { edition, enter, finish, server, start } = withRuns();
const answer = (response: ServerResponse) => sendStream(response, ANSWER);

describe("the wall", () => {
  it("shows one take at a time, and counts over all of them", async () => {
    const { entrantId } = await enter(answer);
    await finish((await start(entrantId, { takes: 2 }, 2)).id);
    const first = await server().services.wall.getWall(edition().id);
    const second = await server().services.wall.getWall(edition().id, { take: 2 });
    expect([first.takes, first.take, second.take]).toEqual([2, 1, 2]);
    expect(first.cells.map(({ take }) => take)).toEqual([1, 1]);
    expect(second.cells.map(({ take }) => take)).toEqual([2, 2]);
    expect(new Set([...first.cells, ...second.cells].map(({ entryId }) => entryId)).size).toBe(4);
    const column = first.entrants.find(({ id }) => id === entrantId)!;
    expect(column.costPerEntryUsd).toBeCloseTo((100 * 10 + 200 * 20) / 1e6, 10);
    expect(column.medianTotalMs).toBeGreaterThan(0);
    expect((await server().services.wall.getWall(edition().id, { take: 3 })).cells).toEqual([]);
  });

  it("tells another model from another build of the same", async () => {
    const { entrantId: build } = await enter((response) => sendStream(response, ANSWER, { model: "the-model-0425" }));
    const { entrantId: other } = await enter((response) => sendStream(response, ANSWER, { model: "the-modeller" }));
    for (const id of [build, other]) await finish((await start(id)).id);
    const { cells } = await server().services.wall.getWall(edition().id);
    const cellOf = (id: string) => cells.find(({ entrantId }) => entrantId === id)!;
    expect(cellOf(build)).toMatchObject({ mismatch: false });
    expect(cellOf(other)).toMatchObject({ mismatch: true });
  });
});

describe("the grid that a run is planned on", () => {
  it("counts what a plan would not send again, and sends the rest", async () => {
    const { entrantId } = await enter(answer);
    const { entrantId: refused } = await enter((response) => sendError(response, 401, "Incorrect key"));
    await finish((await start(entrantId, { takes: 2 }, 3)).id);
    await finish((await start(refused)).id);
    const grid = await server().services.wall.getGrid(edition().id);
    const column = (id: string) => grid.entrants.findIndex((entrant) => entrant.id === id);
    expect(grid.there.map((row) => row[column(entrantId)])).toEqual([2, 2, 2, 0]);
    expect(grid.there.map((row) => row[column(refused)])).toEqual([1, 0, 0, 0]);
    const { missing } = await server().services.runs.plan({
      editionId: edition().id,
      promptIds: edition().promptIds,
      entrantIds: [entrantId],
      takes: 2,
    });
    expect(missing).toBe(2);
  });

  it("does not count what was cancelled", async () => {
    const { entrantId } = await enter(answer);
    const { id } = await start(entrantId, {}, 2);
    await server().services.runs.cancel(id);
    const grid = await server().services.wall.getGrid(edition().id);
    const column = grid.entrants.findIndex((entrant) => entrant.id === entrantId);
    expect(grid.there.map((row) => row[column])).toEqual([0, 0, 0, 0]);
  });
});
