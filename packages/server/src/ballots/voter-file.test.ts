import { mkdtemp, readdir, readFile, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { type Filed, numbers, VoterFile } from "./voter-file.js";

let dir: string;
let path: string;
beforeEach(async () => {
  dir = await mkdtemp(join(tmpdir(), "tourney-voters-"));
  path = join(dir, "deep", "one.ballots");
});
afterEach(() => rm(dir, { recursive: true }));

const schemas = {
  head: z.object({ wordings: z.array(z.string()) }),
  part: z.object({ left: numbers, at: z.instanceof(Int32Array) }).nullable(),
};
type Example = Filed<z.infer<typeof schemas.head>, z.infer<typeof schemas.part>>;

const warn = vi.fn();
afterEach(() => warn.mockClear());
/** One of another process each time: what it knows it has from the file. */
const openFile = ({ statement = "SELECT 1", schema = "one two", leastBallots = 0, at = path } = {}) =>
  new VoterFile(
    // It asks for nothing but the schema.
    { select: () => Promise.resolve([{ schema }]) } as unknown as Database,
    { path: at, statement, schemas, leastBallots, warn },
  );

const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const voterOf = (n: number, left: readonly number[]) => ({
  ...{ id: uuid(n), mark: `${n} ${left.length}` },
  part: { left: Uint16Array.from(left), at: Int32Array.from(left, (one) => one * 1000) },
});
const EXAMPLE: Example = {
  head: { wordings: ["w-1", "w-2"] },
  voters: [voterOf(1, [4, 5, 6]), { id: uuid(2), mark: "2 0", part: null }, voterOf(3, [70, 0])],
};
const write = (filed: Example = EXAMPLE, ballots = 5) => openFile().keep(ballots, ballots, () => filed);

it("gives back what was written", async () => {
  const voter = fc.tuple(fc.nat(999), fc.array(fc.nat(65_535), { maxLength: 40 }));
  await fc.assert(
    fc.asyncProperty(fc.array(voter, { maxLength: 6 }), fc.array(fc.string()), async (voters, wordings) => {
      const filed = { head: { wordings }, voters: voters.map(([n, left]) => voterOf(n, left)) };
      await write(filed);
      expect(await openFile().read()).toEqual(filed);
    }),
    { numRuns: 30 },
  );
  expect(warn).not.toHaveBeenCalled();
});

it("is none before anything was written, and leaves nothing unfinished behind", async () => {
  expect(await openFile().read()).toBeNull();
  await write();
  expect(await readdir(join(dir, "deep"))).toEqual(["one.ballots"]);
  expect((await stat(path)).mode & 0o777).toBe(0o600);
  expect(warn).not.toHaveBeenCalled();
});

it("counts as none when it was read with another statement or from another schema", async () => {
  await write();
  expect(await openFile({ statement: "SELECT 2" }).read()).toBeNull();
  expect(await openFile({ schema: "one two three" }).read()).toBeNull();
  expect(await openFile().read()).toEqual(EXAMPLE);
});

it("gives whole records only, however it was damaged", async () => {
  await write();
  const whole = await readFile(path);
  const damage = fc.tuple(fc.nat(whole.length - 1), fc.integer({ min: 1, max: 255 }), fc.boolean());
  await fc.assert(
    fc.asyncProperty(damage, async ([at, change, isCut]) => {
      const damaged = Buffer.from(whole);
      damaged[at]! ^= change;
      await writeFile(path, isCut ? whole.subarray(0, at) : damaged);
      const found = await openFile().read();
      if (found === null) return;
      expect(found.head).toEqual(EXAMPLE.head);
      expect(found.voters).toEqual(EXAMPLE.voters.slice(0, found.voters.length));
      expect(found.voters.length).toBeLessThan(EXAMPLE.voters.length);
    }),
  );
});

it("is written again when a tenth of it has changed, but not right after it was", async () => {
  vi.useFakeTimers({ toFake: ["performance"] });
  const file = openFile();
  const list = vi.fn(() => EXAMPLE);
  await file.keep(100, 100, list);
  vi.advanceTimersByTime(3_600_000);
  await file.keep(9, 100, list);
  expect(list).toHaveBeenCalledTimes(1);
  await file.keep(1, 100, list);
  expect(list).toHaveBeenCalledTimes(2);
  await file.keep(100, 100, list);
  expect(list).toHaveBeenCalledTimes(2);
  vi.advanceTimersByTime(3_600_000);
  await file.keep(0, 100, list);
  expect(list).toHaveBeenCalledTimes(3);
  vi.useRealTimers();
});

it("is not written for a few ballots, nor where it would fill the disk", async () => {
  await openFile({ leastBallots: 6 }).keep(5, 5, () => EXAMPLE);
  await write(EXAMPLE, 1e15);
  expect(await openFile().read()).toBeNull();
  expect(warn).not.toHaveBeenCalled();
});

it("tells why it could not be written or read, and fails nothing", async () => {
  await writeFile(join(dir, "deep"), "a file where a folder should be");
  await write();
  expect(warn).toHaveBeenCalledTimes(1);
  expect(await openFile().read()).toBeNull();
  expect(warn).toHaveBeenCalledTimes(2);
});
