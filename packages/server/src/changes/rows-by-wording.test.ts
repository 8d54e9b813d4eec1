import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { RowsByWording } from "./rows-by-wording.js";

interface Row {
  wordingId: string;
  value: number;
}

/** A table whose rows change, and who tells of it. */
function createTable() {
  const rows = new Map<string, number[]>();
  const touched: (string | null)[] = [];
  const asked: (readonly string[] | null)[] = [];
  const changes = {
    stamp: () => Promise.resolve(null),
    touchedSince: (told: number | null) => {
      const since = told === null ? [null] : touched.slice(told);
      return {
        told: touched.length,
        wordingIds: since.includes(null) ? null : [...new Set(since as string[])],
      };
    },
  };
  const all = (): Row[] => [...rows].flatMap(([wordingId, values]) => values.map((value) => ({ wordingId, value })));
  return {
    changes,
    asked,
    all,
    set(wordingId: string, values: number[], isNamed = true) {
      rows.set(wordingId, values);
      touched.push(isNamed ? wordingId : null);
    },
    read: (wordingIds: readonly string[] | null) => {
      asked.push(wordingIds);
      return Promise.resolve(all().filter((row) => wordingIds?.includes(row.wordingId) ?? true));
    },
  };
}

const sorted = (rows: readonly Row[]) => rows.map(({ wordingId, value }) => `${wordingId} ${value}`).sort();

describe("rows by the wordings they are of", () => {
  it("are those of the table, after whatever changes", async () => {
    const change = fc.tuple(fc.constantFrom("a", "b", "c"), fc.array(fc.nat(9), { maxLength: 3 }), fc.boolean());
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(change, { maxLength: 4 })), async (rounds) => {
        const table = createTable();
        const rows = new RowsByWording<Row>();
        rows.follow(table.changes);
        for (const round of rounds) {
          for (const [wordingId, values, isNamed] of round) table.set(wordingId, values, isNamed);
          const lists = await Promise.all([rows.list("", table.read), rows.list("", table.read)]);
          for (const list of lists) expect(sorted(list)).toEqual(sorted(table.all()));
        }
      }),
    );
  });

  it("are read again only where something has changed", async () => {
    const table = createTable();
    const rows = new RowsByWording<Row>();
    rows.follow(table.changes);
    for (const id of ["a", "b"]) table.set(id, [1]);
    const before = await rows.listGroups("", table.read);
    table.set("b", [2]);
    const after = await rows.listGroups("", table.read);
    await rows.list("", table.read);
    expect(table.asked).toEqual([null, ["b"]]);
    // Whoever works something out of the rows of a wording may keep it by the array.
    expect(after.get("a")).toBe(before.get("a"));
    expect(after.get("b")).not.toBe(before.get("b"));
  });

  it("are read each time while nobody tells of changes", async () => {
    const table = createTable();
    const rows = new RowsByWording<Row>();
    table.set("a", [1]);
    expect(await rows.list("", table.read)).toEqual([{ wordingId: "a", value: 1 }]);
    table.set("a", [2]);
    expect(await rows.list("", table.read)).toEqual([{ wordingId: "a", value: 2 }]);
  });

  it("are read again after a reading that failed", async () => {
    const table = createTable();
    const rows = new RowsByWording<Row>();
    rows.follow(table.changes);
    table.set("a", [1]);
    await expect(rows.list("", () => Promise.reject(new Error("no connection")))).rejects.toThrow("no connection");
    expect(await rows.list("", table.read)).toEqual([{ wordingId: "a", value: 1 }]);
  });
});
