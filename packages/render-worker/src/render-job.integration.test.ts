import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { createFolderBlobStore, openShelf } from "@tourney/store";
import { handleRenderJob } from "./render-job.js";

const folder = mkdtempSync(join(tmpdir(), "tourney-blobs-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const blobs = createFolderBlobStore(folder);

async function jobFor(page: string) {
  const bytes = Buffer.from(page);
  return {
    renderId: "00000000-0000-4000-8000-000000000001",
    entryPath: "index.html",
    files: [{ path: "index.html", bytes: bytes.length, sha256: await blobs.put(bytes) }],
    plan: {
      viewport: { width: 400, height: 300 },
      seconds: 1,
      frames: 2,
      seed: 1,
      motionExpected: false,
      walkthrough: [],
    },
  };
}

describe("a render job", () => {
  it("keeps its pictures by their digest and reports the recording", async () => {
    const { recording, error } = await handleRenderJob(await jobFor("<h1>Hello</h1>"), 1, {
      blobs,
      shelf: openShelf("/no/such/shelf"),
      browserPath: process.env["TOURNEY_BROWSER"],
      errors: () => undefined,
    });
    expect(error).toBeNull();
    const { file, thumbnail } = recording!.frames[0]!;
    expect(file).toMatch(/^[0-9a-f]{64}\.webp$/);
    expect((await blobs.find(thumbnail.slice(0, 64)))!.subarray(8, 12).toString()).toBe("WEBP");
  });

  it.each([
    [
      "a browser that is missing",
      { browserPath: "/no/such/browser" },
      /browser \/no\/such\/browser is missing.*apt-get install/,
    ],
    [
      "a full disk",
      { blobs: { ...blobs, put: () => Promise.reject(Object.assign(new Error("write"), { code: "ENOSPC" })) } },
      /disk is full.*Free some space/,
    ],
    [
      "a file that is gone",
      { blobs: { ...blobs, find: () => Promise.resolve(null) } },
      /file of the entry is gone.*Check/,
    ],
  ])("reports %s as its result, so that no job is lost", async (_what, broken, message) => {
    const said: string[] = [];
    const result = await handleRenderJob(await jobFor("<h1>Hello</h1>"), 1, {
      blobs,
      shelf: openShelf("/no/such/shelf"),
      browserPath: process.env["TOURNEY_BROWSER"],
      errors: (line) => said.push(line),
      ...broken,
    });
    expect(result.recording).toBeNull();
    expect(result.error).toMatch(message);
    expect(said.join("\n")).toContain("What to do");
  });
});
