import { fork } from "node:child_process";
import { once } from "node:events";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout } from "node:timers/promises";
import { fileURLToPath } from "node:url";
import { TourneyError } from "@tourney/core/errors";
import { createFolderBlobStore } from "@tourney/store";
import { afterAll, describe, expect, it, vi } from "vitest";
import { InvalidInput } from "../http/invalid-input.js";
import { createReaders, TooCostly } from "./readers.js";
import { withoutFiles } from "./without-files.js";

const readers = createReaders({ processes: 2 });
afterAll(() => {
  readers.close();
});

/** Keeps a process busy for some seconds, and nobody else: two texts that differ in every line are compared. */
const SLOW = [
  {
    path: "a.txt",
    before: Array.from({ length: 60_000 }, (_, line) => `a${line}`).join("\n"),
    text: Array.from({ length: 60_000 }, (_, line) => `b${line}`).join("\n"),
  },
];

function isThere(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

describe("a reading", () => {
  it("gives what the function itself gives", async () => {
    const read = await readers.read("extract", {
      answer: "```html\n<h1>Tide</h1>\n```",
      options: { stopReason: null },
    });
    expect(read).toMatchObject({ kind: "html", entry: "index.html" });
  });

  it("throws the errors of ours whole, with the issues of a form", async () => {
    const broken = await readers.read("suite", "key: [").catch((thrown: unknown) => thrown);
    expect(broken).toBeInstanceOf(TourneyError);
    expect(broken).toMatchObject({ code: "INVALID_FILE", remedy: expect.stringContaining("Correct") as unknown });
    const wrong = await readers.read("suite", "key: 3").catch((thrown: unknown) => thrown);
    expect(wrong).toBeInstanceOf(InvalidInput);
    expect((wrong as InvalidInput).issues[0]!.path).toContain("line 1");
    expect((wrong as InvalidInput).message).toContain("The suite file");
  });

  it("keeps nobody waiting, and is ended when its time is over; the next one is read", async () => {
    const strict = createReaders({ processes: 1, timeMs: 9000 });
    let ticks = 0;
    const timer = setInterval(() => ticks++, 50);
    const slow = strict.read("compareFiles", SLOW).catch((thrown: unknown) => thrown);
    const next = strict.read("findAdmissions", "I cannot run this.");
    expect(await slow).toBeInstanceOf(TooCostly);
    expect(await slow).toMatchObject({ code: "TOO_LARGE", why: "took more than 9 s" });
    expect(ticks).toBeGreaterThan(10);
    expect(Array.isArray(await next)).toBe(true);
    clearInterval(timer);
    strict.close();
  });

  it("makes a page for a voter while all else that is read takes long", async () => {
    const busy = createReaders({ processes: 1, timeMs: 12_000 });
    const until: string[] = [];
    const slow = busy.read("compareFiles", SLOW).catch(() => until.push("slow"));
    const blobsDir = await mkdtemp(join(tmpdir(), "tourney-readers-"));
    const sha256 = await createFolderBlobStore(blobsDir).put(Buffer.from("<!doctype html><h1>Tide</h1>"));
    const files = [{ path: "index.html", sha256 }];
    await busy.read("page", { blobsDir, entryPath: "index.html", files, names: [], shelf: "http://127.0.0.1/shelf" });
    until.push("page");
    await slow;
    expect(until).toEqual(["page", "slow"]);
    busy.close();
    await rm(blobsDir, { recursive: true });
  });

  it("is ended with its server, also amid a text that never ends", async () => {
    const server = fork(fileURLToPath(new URL("../../test-support/reads-and-dies.ts", import.meta.url)), [], {
      execArgv: ["--import", import.meta.resolve("tsx"), "--conditions=tourney-source"],
    });
    const [child] = (await once(server, "message")) as [number];
    expect(isThere(child)).toBe(true);
    server.kill("SIGKILL");
    await vi.waitFor(() => expect(isThere(child)).toBe(false), { timeout: 10_000, interval: 100 });
  });

  it("is ended when its readers close", async () => {
    const closing = createReaders({ processes: 1 });
    const reading = closing.read("compareFiles", SLOW).catch((thrown: unknown) => thrown);
    await setTimeout(200);
    closing.close();
    expect(String(await reading)).toContain("ended");
  });

  it("is ended when it takes too much memory, and no other one with it", async () => {
    const small = createReaders({ processes: 2, memoryMb: 60 });
    const many = `{"a":${"[".repeat(50)}${"1,".repeat(25_000_000)}1${"]".repeat(50)}}`;
    const large = small
      .read("body", { name: "importSuite", bytes: Buffer.from(many) })
      .catch((thrown: unknown) => thrown);
    await setTimeout(10);
    expect(await small.read("join", ["one", "two"])).toContain("one");
    expect(await large).toMatchObject({ why: "took more than 60 MB of memory" });
    small.close();
  });
});

describe("an answer that costs too much", () => {
  it("comes to nothing, and says why", () => {
    expect(withoutFiles(new TooCostly("took more than 20 s"))).toMatchObject({
      verdict: "no_artifact",
      files: [],
      trace: [{ why: "taking a page out of it took more than 20 s" }],
    });
    expect(() => withoutFiles(new Error("other"))).toThrow("other");
  });
});
