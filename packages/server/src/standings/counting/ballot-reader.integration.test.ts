import { mkdtemp, readdir, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it, vi } from "vitest";
import { castBallots } from "../../../test-support/cast-ballots.js";
import { makeEntries, suiteYaml } from "../../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../../test-support/test-server.js";
import { BallotReader } from "./ballot-reader.js";
import { BALLOTS_OF_VOTERS } from "./counting-queries.sql.js";

let server: TestServer;
let dir: string;
let token: string;
const warn = vi.fn();
beforeAll(async () => {
  dir = await mkdtemp(join(tmpdir(), "tourney-rated-"));
  server = await startTestServer();
  const { edition } = await server.services.suites.importSuite(suiteYaml("one", "two"));
  await makeEntries(server, edition, ["gorse", "heath", "sedge"]);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 40, message: "" });
  token = panel.url.split("/").at(-1)!;
});
afterAll(async () => {
  await server.close();
  await rm(dir, { recursive: true });
});

/** A reader of a process that starts anew, which may write the file, and of whose ballots it asks the database. */
function startAnew({ writes = false } = {}): { reader: BallotReader; asked: unknown[] } {
  const asked: unknown[] = [];
  const db: typeof server.db = {
    ...server.db,
    select: (row, sql, bind = [], transaction) => {
      if (sql === BALLOTS_OF_VOTERS) asked.push(...(bind[0] as unknown[]));
      return server.db.select(row, sql, bind, transaction);
    },
  };
  return { reader: new BallotReader(db, { dir, warn, leastBallots: writes ? 0 : Infinity }), asked };
}
/** Ballots by their ids, however a reader numbers them. */
const listBallots = ({ voters, wordings, versions }: BallotReader) =>
  voters
    .map(({ id, ballots: { wording, left, right, verdict, at } }) => ({
      id,
      ballots: Array.from(at, (second, b) =>
        [wordings.ids[wording[b]!], versions.ids[left[b]!], versions.ids[right[b]!], verdict[b], second].join(" "),
      ).toSorted(),
    }))
    .toSorted((a, b) => (a.id < b.id ? -1 : 1));

it("takes over what the last process held, and reads those whose ballots have changed since", async () => {
  const voters = [];
  for (const seed of [1, 2, 3]) voters.push(await castBallots(server, { token, seed, ballots: 6 }));
  const first = startAnew({ writes: true });
  expect(await first.reader.refresh()).toBe(true);
  expect(first.asked).toHaveLength(3);
  const before = listBallots(first.reader);
  expect(before.every(({ ballots }) => ballots.length > 0)).toBe(true);
  await vi.waitFor(async () => expect(await readdir(dir)).toEqual(["rated.ballots"]));

  const second = startAnew();
  await second.reader.refresh();
  expect(second.asked).toEqual([]);
  expect(listBallots(second.reader)).toEqual(before);

  expect((await voters[1]!.delete(`/api/booth/${token}/last-ballot`)).status).toBe(200);
  const [third, afresh] = [startAnew(), new BallotReader(server.db, { dir: join(dir, "none"), warn })];
  for (const reader of [third.reader, second.reader, afresh]) await reader.refresh();
  expect(third.asked).toHaveLength(1);
  expect(second.asked).toEqual(third.asked);
  expect(listBallots(third.reader)).toEqual(listBallots(afresh));
  expect(listBallots(second.reader)).toEqual(listBallots(afresh));
  expect(listBallots(afresh)).not.toEqual(before);
  expect(warn).not.toHaveBeenCalled();
});
