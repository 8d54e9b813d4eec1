import { lstatSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createFolderBlobStore } from "@tourney/store";
import { describe, expect, it } from "vitest";
import { giveFolder, readAccount } from "./account.js";

const isRoot = process.getuid?.() === 0;
/** No account of these numbers is needed: files can belong to any. */
const SOMEBODY = { uid: 54321, gid: 54322 };

describe("an account of the system", () => {
  const passwd =
    "root:x:0:0:root:/root:/bin/bash\ntourney-old:x:7:8::/:/bin/sh\ntourney:x:998:997::/nonexistent:/bin/false\n";

  it("is found by its whole name", () => {
    expect(readAccount(passwd, "tourney")).toEqual({ uid: 998, gid: 997 });
    expect(readAccount(passwd, "tour")).toBeNull();
  });
});

describe.runIf(isRoot)("a folder that root gives away", () => {
  it("is given with all in it, but for what links lead to", async () => {
    const outside = mkdtempSync(join(tmpdir(), "tourney-account-"));
    const folder = join(outside, "data");
    try {
      mkdirSync(join(folder, "a"), { recursive: true });
      writeFileSync(join(folder, "a", "file"), "");
      writeFileSync(join(outside, "not-its"), "");
      symlinkSync(join(outside, "not-its"), join(folder, "link"));
      giveFolder(folder, SOMEBODY);
      const ownerOf = (...path: string[]) => lstatSync(join(outside, ...path)).uid;
      expect([ownerOf("data"), ownerOf("data", "a"), ownerOf("data", "a", "file")]).toEqual(
        Array.from({ length: 3 }, () => SOMEBODY.uid),
      );
      expect(ownerOf("not-its")).toBe(0);

      const sha256 = await createFolderBlobStore(join(folder, "blobs")).put(Buffer.from("made by root"));
      const parts = ["data", "blobs", sha256.slice(0, 2), sha256];
      for (let depth = 2; depth <= parts.length; depth++) expect(ownerOf(...parts.slice(0, depth))).toBe(SOMEBODY.uid);
    } finally {
      rmSync(outside, { recursive: true });
    }
  });
});
