import { type Edition, EVERYTHING, Standings, StandingsBasis } from "@tourney/core/contract";
import { rateBallots } from "@tourney/core/ratings";
import { countBasis, findHeadToHead, joinBasis, prepareBasis, splitBasis } from "@tourney/core/standings";
import { finish } from "@tourney/core/steps";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import type { Client } from "../../test-support/client.js";
import { makeEntries, suiteYaml } from "../../test-support/scenario.js";
import { castBallots } from "../../test-support/cast-ballots.js";
import { signIn } from "../../test-support/sign-in.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

const ENTRANTS = ["gorse", "heath", "sedge", "thrift"];

let server: TestServer;
let edition: Edition;
let token: string;
beforeAll(async () => {
  server = await startTestServer();
  ({ edition } = await server.services.suites.importSuite(suiteYaml("one", "two", "three")));
  await makeEntries(server, edition, ENTRANTS);
  const panel = await server.services.panels.add({ editionId: edition.id, title: "Friends", quota: 18, message: "" });
  token = panel.url.split("/").at(-1)!;
});
afterAll(() => server.close());

const vote = (seed: number, ballots: number): Promise<Client> => castBallots(server, { token, seed, ballots });

const BallotRow = z.object({
  voter: z.string(),
  prompt: z.string(),
  left: z.string(),
  right: z.string(),
  lean: z.int(),
  leftWorks: z.boolean(),
  rightWorks: z.boolean(),
});
const listBallots = () =>
  server.db.select(
    BallotRow,
    `SELECT o.voter_id AS voter, o.prompt_id AS prompt, gl.entrant_id AS left, gr.entrant_id AS right, b.lean,
       b.left_works AS "leftWorks", b.right_works AS "rightWorks"
     FROM ballots b JOIN bouts o ON o.id = b.bout_id
       JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
       JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
     WHERE b.voided_at IS NULL`,
  );
/** Numbers to nine digits: sums of the same numbers in another order differ in the last ones. */
const roundAll = (value: object): unknown =>
  JSON.parse(
    JSON.stringify(value, (_, item: unknown) => (typeof item === "number" ? Number(item.toPrecision(9)) : item)),
  );
const getStandings = () => server.services.standings.getStandings(edition.id);

describe("the standings", () => {
  it("by the counts are those by the ballots one by one, also after some were taken back", async () => {
    await Promise.all([1, 2, 3, 4].map((seed) => vote(seed, 14)));
    const [standings, ballots] = [await getStandings(), await listBallots()];
    expect(standings.ballots).toBe(ballots.length);
    const numbers = (values: string[]) => {
      const distinct = [...new Set(values)];
      return values.map((value) => distinct.indexOf(value));
    };
    const entrants = standings.rows.map(({ entrant }) => entrant.id);
    const direct = rateBallots(entrants.length, {
      voter: numbers(ballots.map(({ voter }) => voter)),
      prompt: numbers(ballots.map(({ prompt }) => prompt)),
      left: ballots.map(({ left }) => entrants.indexOf(left)),
      right: ballots.map(({ right }) => entrants.indexOf(right)),
      outcome: ballots.map(({ lean }) => lean + 3),
    }).ratings;
    expect([standings.voters, standings.prompts]).toEqual([direct.clusters.voters, direct.clusters.prompts]);
    standings.rows.forEach(({ rating, halfWidth, rankRange, ballots: own, worksShare }, row) => {
      const expected = direct.entrants[row]!;
      expect(rating).toBeCloseTo(expected.rating!, 6);
      expect(halfWidth).toBeCloseTo(expected.halfWidth!, 6);
      expect([rankRange, own]).toEqual([expected.rankRange, expected.ballots]);
      const shown = ballots.flatMap(({ left, right, leftWorks, rightWorks }) => [
        ...(left === entrants[row] ? [leftWorks] : []),
        ...(right === entrants[row] ? [rightWorks] : []),
      ]);
      expect(worksShare).toBeCloseTo(shown.filter(Boolean).length / shown.length, 9);
    });
  });

  it("come to the same where all ballots are read, and to what is left where some do not count", async () => {
    const { rest, parts } = splitBasis(await server.services.standings.getBasis(edition.id));
    const basis = StandingsBasis.parse(
      joinBasis(
        rest,
        [...parts].map((part) => part.list()),
      ),
    );
    const [shown, shownByPrompt] = [
      Standings.parse(await getStandings()),
      await server.services.standings.getPromptRatings(edition.id),
    ];
    const { standings, ratePrompts } = countBasis(prepareBasis(basis), EVERYTHING);
    const sources = shown.sources.map((source) => ({
      ...source,
      firstAt: source.firstAt.replace(/\d{3}Z/, "000Z"),
      lastAt: source.lastAt.replace(/\d{3}Z/, "000Z"),
    }));
    expect(roundAll({ ...standings, countedAt: "" })).toEqual(roundAll({ ...shown, sources, countedAt: "" }));
    expect(roundAll(finish(ratePrompts()))).toEqual(roundAll(shownByPrompt));

    const ballots = await listBallots();
    const voter = ballots[0]!.voter;
    const one = await server.services.standings.getStandings(edition.id, {
      ...EVERYTHING,
      prompt: ["one", "two"],
      without: [voter],
    });
    const kept = new Set(edition.prompts.flatMap(({ id, key }) => (key === "three" ? [] : [id])));
    const left = ballots.filter((ballot) => kept.has(ballot.prompt) && ballot.voter !== voter);
    expect([one.ballots, one.prompts]).toEqual([left.length, 2]);
    expect(one.rows[0]!.delivery).toEqual({ pages: 2, none: 0, owed: 0 });
    expect(one.sources.map((source) => source.ballots)).toEqual([left.length]);
  });

  it("can let a page that shows nothing lose, or leave it out, however people voted", async () => {
    const ballots = await listBallots();
    const broken = ballots[0]!.left;
    await server.db.execute(
      `UPDATE renders r SET recording = jsonb_set(recording, '{findings}', '[{"rule": "blank"}]') FROM entries e, generations g
       WHERE e.id = r.entry_id AND g.id = e.generation_id AND g.entrant_id = $1`,
      [broken],
    );
    const own = ballots.filter(({ left, right }) => left === broken || right === broken).length;
    const get = (rule: "lose" | "leave_out") =>
      server.services.standings.getStandings(edition.id, { ...EVERYTHING, broken: rule });
    const [lose, leftOut] = [await get("lose"), await get("leave_out")];
    expect(lose.ballots).toBe(ballots.length);
    expect(leftOut.ballots).toBe(ballots.length - own);
    const place = lose.rows.findIndex(({ entrant }) => entrant.id === broken);
    expect(place).toBe(ENTRANTS.length - 1);
    for (let other = 0; other < place; other++) {
      const met = findHeadToHead(lose, place, other)!;
      expect([0, null]).toContain(met.ballots === 0 ? null : met.share);
    }
    await server.db.execute("UPDATE renders SET recording = jsonb_set(recording, '{findings}', '[]')");
  });

  it("can be looked at again under a name that is given to what counts", async () => {
    const { standings } = server.services;
    const counts = { ...EVERYTHING, kind: ["game" as const], broken: "lose" as const };
    const view = await standings.keepView(edition.id, { name: "Games, strictly", counts });
    expect(view.counts).toEqual(counts);
    await expect(standings.keepView(edition.id, { name: "Games, strictly", counts: EVERYTHING })).rejects.toThrow(
      "There is a view “Games, strictly” already.",
    );
    expect(await standings.listViews(edition.id)).toEqual([view]);
    expect(await standings.removeView(view.id)).toEqual({ removed: true });
    expect(await standings.listViews(edition.id)).toEqual([]);
  });

  it("come with ratings on each prompt, which count every ballot on both its sides", async () => {
    const { overall, prompts, categories } = await server.services.standings.getPromptRatings(edition.id);
    const ballots = await listBallots();
    expect(overall).toHaveLength(ENTRANTS.length);
    expect(prompts.map(({ promptId }) => promptId)).toEqual(edition.prompts.map(({ id }) => id));
    expect(prompts.reduce((sum, one) => sum + one.ballots, 0)).toBe(ballots.length);
    expect(prompts.every(({ agreement }) => agreement! >= 0.5 && agreement! <= 1)).toBe(true);
    // All of one kind, and without tags: nothing parts them.
    expect(categories).toEqual([]);
    const counted = prompts.flatMap(({ ratings }) => ratings.map((one) => one.ballots));
    expect(counted.reduce((sum, n) => sum + n, 0)).toBe(2 * ballots.length);
    for (const { rating, error } of prompts.flatMap(({ ratings }) => ratings)) {
      expect(rating).toBeGreaterThan(500);
      expect(error).toBeGreaterThan(0);
    }
  });

  it("are kept as they were, once a minute and input", async () => {
    const before = await getStandings();
    await vote(9, 3);
    const after = await getStandings();
    expect(after.ballots).toBeGreaterThan(before.ballots);
    expect((await getStandings()).countedAt).toBe(after.countedAt);
    const snapshots = await server.db.select(
      z.object({
        ballots: z.int(),
        digest: z.string(),
        method: z.string(),
        ratings: z.object({ ratings: z.array(z.unknown()) }),
      }),
      "SELECT ballots, input_digest AS digest, method_version AS method, ratings FROM rating_snapshots WHERE edition_id = $1 AND kind IS NULL ORDER BY counted_at",
      [edition.id],
    );
    const last = snapshots.at(-1)!;
    expect([last.ballots, last.method]).toEqual([after.ballots, after.methodVersion]);
    expect(last.ratings.ratings).toHaveLength(ENTRANTS.length);
    expect(new Set(snapshots.map(({ digest }) => digest)).size).toBe(snapshots.length);
  });

  it("are computed and kept soon after a ballot, though nobody asks", async () => {
    await vote(10, 1);
    const ballots = (await listBallots()).length;
    const kept = () =>
      server.db.select(
        z.object({ ballots: z.int() }),
        "SELECT ballots FROM rating_snapshots WHERE edition_id = $1 AND kind IS NULL AND ballots = $2",
        [edition.id, ballots],
      );
    await expect.poll(kept, { timeout: 10_000 }).toEqual([{ ballots }]);
  });

  it("are thinned out after a day, to the last of each hour", async () => {
    await getStandings();
    const kept = () =>
      server.db.select(
        z.object({ ballots: z.int() }),
        "SELECT ballots FROM rating_snapshots WHERE edition_id = $1 AND counted_at < now() - interval '1 day' ORDER BY counted_at",
        [edition.id],
      );
    // One in each of the last five minutes of an hour, and one in the next.
    await server.db.execute("DELETE FROM rating_snapshots WHERE edition_id = $1", [edition.id]);
    await server.db.execute(
      `INSERT INTO rating_snapshots (edition_id, method_version, input_digest, ballots, ratings, counted_at)
       SELECT $1, $2, encode(sha256(i::text::bytea), 'hex'), i, '{}', date_trunc('hour', now()) - interval '2 days' + make_interval(mins => 54 + i) FROM generate_series(1, 6) i`,
      [edition.id, (await getStandings()).methodVersion],
    );
    await vote(12, 1);
    await expect.poll(async () => (await kept()).map(({ ballots }) => ballots), { timeout: 12_000 }).toEqual([5, 6]);
  });

  it("are pushed to open pages within a second or two of a ballot, and to nobody else", async () => {
    const path = `/api/events?standings=${edition.id}`;
    expect((await fetch(server.origin + path)).status).toBe(401);
    const lead = await signIn(server);
    const abort = new AbortController();
    const response = await fetch(server.origin + path, { headers: lead.headers, signal: abort.signal });
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let received = "";
    const next = async (): Promise<Standings> => {
      for (;;) {
        const [event, ...rest] = received.split("\n\n");
        if (rest.length > 0) {
          received = rest.join("\n\n");
          const data = /^event: standings:\S+\ndata: (.*)$/m.exec(event!)?.[1];
          if (data !== undefined) return Standings.parse(JSON.parse(data));
          continue;
        }
        received += (await reader.read()).value ?? "";
      }
    };
    const first = await next();
    const startedAt = Date.now();
    await vote(11, 1);
    const second = await next();
    expect(second.ballots).toBe(first.ballots + 1);
    expect(Date.now() - startedAt).toBeLessThan(5000);
    abort.abort();
    // Whoever asks gets what was pushed, and a ballot that is cast afterwards.
    const ask = () => lead.get(`/api/editions/${edition.id}/standings`);
    expect(await ask()).toMatchObject({ status: 200, body: { countedAt: second.countedAt } });
    await vote(11, 1);
    // On a busy machine a count takes long and rests.
    await expect.poll(ask, { timeout: 20_000 }).toMatchObject({ status: 200, body: { ballots: second.ballots + 1 } });
  });
});
