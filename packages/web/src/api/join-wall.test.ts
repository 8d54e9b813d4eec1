import type { WallAnswer } from "@tourney/core/contract";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { joinWall } from "./join-wall.js";

const wall = (parts: object): WallAnswer =>
  ({ prompts: [], entrants: [], cells: [], emptied: [], since: null, ...parts }) as never;
const cell = (promptId: string, versionId: string, state = "recorded") => ({ promptId, versionId, state }) as never;

describe("what has changed of a wall", () => {
  it("is put into the wall that is held, of which the rest stays the same objects", () => {
    const held = wall({
      cursor: "a.1",
      prompts: [{ id: "p" }],
      cells: [cell("p", "u"), cell("p", "v"), cell("p", "w")],
    });
    const sent = wall({
      ...{ cursor: "a.2", since: "a.1", prompts: [{ id: "p" }] },
      cells: [cell("p", "v", "queued"), cell("p", "x")],
      emptied: [{ promptId: "p", versionId: "w" }],
    });
    const joined = joinWall(held, sent);
    expect(joined.cells).toEqual([cell("p", "u"), cell("p", "v", "queued"), cell("p", "x")]);
    expect(joined.cells[0]).toBe(held.cells[0]);
    expect(joined.prompts).toBe(held.prompts);
    expect(joined.cursor).toBe("a.2");
  });

  it("is all of it where the server does not know the wall that is held", () => {
    const sent = wall({ cursor: "b.1", cells: [cell("p", "v")] });
    expect(joinWall(wall({ cells: [cell("q", "u")] }), sent)).toBe(sent);
  });

  it("leaves no cell out and keeps none that is gone, whatever changes", () => {
    const state = fc.dictionary(
      fc.constantFrom("a", "b", "c", "d", "e", "f"),
      fc.constantFrom("queued", "recorded", "failed"),
    );
    fc.assert(
      fc.property(state, state, (before, after) => {
        const held = wall({ cells: Object.entries(before).map(([id, was]) => cell(id, "v", was)) });
        const sent = wall({
          since: "a.1",
          cells: Object.entries(after).flatMap(([id, is]) => (before[id] === is ? [] : [cell(id, "v", is)])),
          emptied: Object.keys(before).flatMap((id) => (id in after ? [] : [{ promptId: id, versionId: "v" }])),
        });
        const joined = joinWall(held, sent).cells.map(({ promptId, state: is }) => [promptId, is]);
        expect(Object.fromEntries(joined)).toEqual(after);
        expect(joined).toHaveLength(Object.keys(after).length);
      }),
    );
  });
});
