import { describe, expect, it } from "vitest";
import { fromBuffer } from "yauzl";
import type { BlobStore } from "@tourney/store";
import type { EntryRow } from "./entry-queries.sql.js";
import { saveEntry } from "./save-entry.js";

const listNames = (zip: Buffer): Promise<string[]> =>
  new Promise((resolve, reject) => {
    fromBuffer(zip, (error, file) => {
      if (error !== null) return reject(error);
      const names: string[] = [];
      file.on("entry", ({ fileName }: { fileName: string }) => names.push(fileName));
      file.on("end", () => resolve(names));
    });
  });

const save = (paths: readonly string[], more: Partial<EntryRow> = {}) => {
  const files = paths.map((path, index) => ({ path, bytes: 1, sha256: String(index) }));
  const row = {
    prompt: { key: "lock" },
    entrantKey: "gorse",
    take: 2,
    round: 0,
    files,
    ...more,
  } as unknown as EntryRow;
  const blobs = { find: (sha256: string) => Promise.resolve(sha256 === "9" ? null : Buffer.from("x")) };
  return saveEntry(row, blobs as unknown as BlobStore);
};

describe("an entry saved to disk", () => {
  it("is a zip with a folder of its own, named by prompt, entrant and take", async () => {
    const { name, bytes } = await save(["index.html", "js/game.js"]);
    expect(name).toBe("lock-gorse-take-2.zip");
    expect(await listNames(bytes)).toEqual(["lock-gorse-take-2/index.html", "lock-gorse-take-2/js/game.js"]);
    expect((await save(["index.html"], { round: 1 })).name).toBe("lock-gorse-take-2-round-1.zip");
  });

  it("never leads out of that folder, whatever a path says", async () => {
    const { bytes } = await save(["../../etc/passwd", "/root/x", "C:\\x\\..\\y.html", "..", "a//b"]);
    for (const name of await listNames(bytes)) {
      expect(name.startsWith("lock-gorse-take-2/")).toBe(true);
      expect(name.split("/")).not.toContain("..");
    }
  });

  it("names what is missing from the store, and saves the rest", async () => {
    const paths = Array.from({ length: 10 }, (_, index) => `${index}.html`);
    const names = await listNames((await save(paths)).bytes);
    expect(names).toHaveLength(10);
    expect(names.at(-1)).toBe("lock-gorse-take-2/missing-files.txt");
  });
});
