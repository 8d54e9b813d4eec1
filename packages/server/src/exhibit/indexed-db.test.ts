import { describe, expect, it } from "vitest";
import { asksForIndexedDb, makeIndexedDb } from "./indexed-db.js";

describe("the database in memory", () => {
  it("is for pages that ask for one, themselves or by a library", () => {
    expect(asksForIndexedDb(["<p>An index of databases</p>", "const idbits = 1"])).toBe(false);
    for (const text of ["indexedDB.open('x')", 'import Dexie from "dexie"', "localforage.setItem('a', 1)"])
      expect(asksForIndexedDb(["<p>", text])).toBe(true);
  });

  it("is one script that fits into the room that stages have, and can stand in a page", async () => {
    const script = await makeIndexedDb();
    expect(script).toContain("IDBKeyRange");
    expect(script.length).toBeLessThan(130_000);
    expect(script).not.toMatch(/<\/script/i);
    expect(await makeIndexedDb()).toBe(script);
  });
});
