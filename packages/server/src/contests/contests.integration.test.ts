import {
  BallotList,
  BoothQueue,
  type Contest,
  type ContestResults,
  type Edition,
  EVERYTHING,
} from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { Client } from "../../test-support/client.js";
import { ANSWER, byHand, markRecorded, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

const KEYS = ["gorse", "heath"];

let server: TestServer;
let edition: Edition;

/** Prompts one and two, a hint on one, and a third of two turns; two takes of each by both entrants, of which each had a mend. */
beforeAll(async () => {
  server = await startTestServer();
  const yaml = suiteYaml("one", "two", "hinted", "staged")
    .replace("/1", "/2")
    .replace("key: hinted,", "key: hinted, variantOf: { prompt: one, change: With a hint. },")
    .replace("text: Build staged.,", "text: Build staged., turns: [{ text: Now animate it. }],");
  ({ edition } = await server.services.suites.importSuite(yaml));
  for (const key of KEYS) await server.services.entrants.add(byHand(key));
  for (const { key: promptKey } of edition.prompts)
    for (const entrantKey of KEYS)
      for (const take of [1, 2]) {
        const text = ANSWER.replace("A page", `${promptKey} ${entrantKey} ${take}`);
        await server.services.entries.addHandAnswer(edition.id, { promptKey, entrantKey, take, text });
      }
  const staged = edition.prompts.find(({ key }) => key === "staged")!;
  const { Generation, Prompt } = server.db.models;
  const { wordingId } = (await Prompt.findByPk(staged.id))!;
  for (const { id } of await Generation.findAll({ where: { wordingId } })) await copyGeneration(id, { turn: 2 });
  const last = await Generation.findAll();
  for (const { id, wordingId: own, turn } of last)
    if (own !== wordingId || turn === 2)
      await copyGeneration(id, { round: 1, mends: 1, followUp: { kind: "mend", text: "Mend it." } });
  await markRecorded(server);
}, 60_000);
afterAll(() => server.close());

/** What the database makes itself. */
const MADE = new Set([
  ...["id", "isMismatch", "showsNothing"],
  ...["rendererVersion", "hasError", "faults", "motion", "middlePicture", "likeness", "needs"],
]);

/** The same answer and page once more, as if a later turn or a mend had led to it. */
async function copyGeneration(
  id: string,
  change: { turn?: number; round?: number; mends?: number; followUp?: object },
): Promise<void> {
  const { Generation, Entry, Render } = server.db.models;
  const plain = (row: { get: (options: { plain: true }) => object }) =>
    Object.fromEntries(Object.entries(row.get({ plain: true })).filter(([name]) => !MADE.has(name)));
  const generation = (await Generation.findByPk(id))!;
  const made = await Generation.create({ ...plain(generation), ...change } as never);
  const entry = (await Entry.findOne({ where: { generationId: id } }))!;
  const copied = await Entry.create({ ...plain(entry), generationId: made.id } as never);
  const render = (await Render.findOne({ where: { entryId: entry.id } }))!;
  await Render.create({ ...plain(render), entryId: copied.id } as never);
}
const Stood = z.object({
  contest: z.string(),
  key: z.string(),
  left: z.string(),
  right: z.string(),
  leftForm: z.string(),
  rightForm: z.string(),
  leftTake: z.int(),
  rightTake: z.int(),
  rightOf: z.string(),
});
/** What stood in the bouts of a panel. */
const listStood = (panelId: string) =>
  server.db.select(
    Stood,
    `SELECT o.contest, q.key, nl.key AS left, nr.key AS right, o.left_form AS "leftForm", o.right_form AS "rightForm", gl.take AS "leftTake",
       gr.take AS "rightTake", qr.key AS "rightOf"
     FROM bouts o JOIN voters v ON v.id = o.voter_id JOIN prompts q ON q.id = o.prompt_id
       JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id JOIN entrants nl ON nl.id = gl.entrant_id
       JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id JOIN entrants nr ON nr.id = gr.entrant_id
       JOIN prompts qr ON qr.wording_id = gr.wording_id
     WHERE v.panel_id = $1`,
    [panelId],
  );

interface Voted {
  panelId: string;
  stood: z.infer<typeof Stood>[];
}

/** Makes a panel and lets voters vote on all that it shows them. @param choose the lean, given what stood left and right. */
async function vote(
  contest: Contest,
  choose: (stood: z.infer<typeof Stood>) => number,
  more: object = {},
  voters = 3,
): Promise<Voted> {
  const title = `On ${contest}`;
  const input = { editionId: edition.id, title, quota: 30, message: "", contest, ...more };
  const panel = await server.services.panels.add(input);
  const token = panel.url.split("/").at(-1)!;
  for (let index = 0; index < voters; index++) {
    const voter = new Client(server.origin);
    await voter.post(`/api/booth/${token}/voters`, { name: `Voter ${index}` });
    let queue = BoothQueue.parse((await voter.get(`/api/booth/${token}/bouts`)).body);
    while (queue.bouts[0]) {
      const { token: boutToken } = queue.bouts[0];
      const { id } = (await server.db.models.Bout.findOne({ where: { token: boutToken } }))!;
      const lean = choose(await findStood(id));
      await voter.post(`/api/booth/bouts/${boutToken}/ballot`, { lean, dwellMs: 3000 });
      queue = BoothQueue.parse((await voter.get(`/api/booth/${token}/bouts`)).body);
    }
  }
  return { panelId: panel.id, stood: await listStood(panel.id) };
}

async function findStood(boutId: string): Promise<z.infer<typeof Stood>> {
  const bout = (await server.db.models.Bout.findByPk(boutId))!;
  const voter = (await server.db.models.Voter.findByPk(bout.voterId))!;
  const all = await listStood(voter.panelId);
  const form = (side: string) => all.find((one) => one.leftForm === side || one.rightForm === side);
  const found = form(bout.leftForm)!;
  return { ...found, leftForm: bout.leftForm, rightForm: bout.rightForm };
}

const results = (): Promise<ContestResults> => server.services.contests.getResults(edition.id);
const standings = () => server.services.standings.getStandings(edition.id);

describe("a contest beside the ratings", () => {
  it("has nothing to tell before anybody votes", async () => {
    expect(await results()).toEqual({ forms: [], takes: null, pages: [], newcomers: [] });
  });

  it("puts a variant against the prompt as it stands, of the same entrant, and says what it is worth", async () => {
    const { stood } = await vote("hints", ({ leftForm }) => (leftForm === "as it stands" ? 1 : -1));
    expect(stood.length).toBeGreaterThanOrEqual(6);
    for (const one of stood) {
      expect(one).toMatchObject({ contest: "hints", key: "one", left: one.right });
      expect([one.leftForm, one.rightForm].sort()).toEqual(["as it stands", "variant hinted"]);
      expect(one.rightOf).toBe(one.rightForm === "as it stands" ? "one" : "hinted");
    }
    const [hints] = (await results()).forms;
    expect(hints).toMatchObject({ contest: "hints", all: { worse: 0, even: 0 } });
    expect(hints!.all.better).toBe(hints!.all.ballots);
    expect(hints!.all.points).toBeGreaterThan(100);
    expect(hints!.entrants).toHaveLength(2);
    // Each figure leads to its ballots.
    const list = (scope: object) =>
      server.services.ballotList.list(edition.id, { only: "that count", contest: "hints", ...scope });
    expect((await list({})).total).toBe(hints!.all.ballots);
    for (const { versionId, ballots } of hints!.entrants) expect((await list({ ofId: versionId })).total).toBe(ballots);
    expect(hints!.prompts).toMatchObject([{ form: "variant hinted" }]);
  });

  it("puts takes of the same entrant against each other", async () => {
    const { stood } = await vote("takes", () => 1);
    const pages = stood.map(({ key, left, right, leftTake, rightTake }) => {
      expect([left, Math.abs(leftTake - rightTake)]).toEqual([right, 1]);
      return `${key} ${left}`;
    });
    expect(new Set(pages).size).toBe(8);
    expect((await results()).takes).toMatchObject({ distance: 1, distanceBetween: null, entrants: [{}, {}] });
  });

  it("puts mended pages against first shots, of the same take", async () => {
    const { stood } = await vote("rounds", ({ leftForm }) => (leftForm === "mended" ? 1 : -1));
    for (const one of stood) {
      expect([one.leftForm, one.rightForm].sort()).toEqual(["first shot", "mended"]);
      expect(one.left).toBe(one.right);
      expect(one.leftTake).toBe(one.rightTake);
    }
    const rounds = (await results()).forms.find(({ contest }) => contest === "rounds")!;
    expect(rounds.all.better).toBe(0);
    expect(rounds.all.points).toBeLessThan(0);
  });

  it("puts a turn against the one before", async () => {
    const { stood } = await vote("turns", ({ leftForm }) => (leftForm === "turn 2" ? -2 : 2));
    for (const one of stood) {
      expect(one).toMatchObject({ key: "staged", left: one.right, leftTake: one.rightTake });
      expect([one.leftForm, one.rightForm].sort()).toEqual(["turn 1", "turn 2"]);
    }
    const turns = (await results()).forms.find(({ contest }) => contest === "turns")!;
    expect(turns.all.worse).toBe(0);
  });

  it("rates mended pages in a table of their own", async () => {
    const { stood } = await vote("mended", () => 0);
    for (const one of stood) expect(one.left).not.toBe(one.right);
    const [mended] = (await results()).pages;
    expect(mended).toMatchObject({ pages: "mended-1", ballots: stood.length, rows: [{}, {}] });
    // The standings count the same, and all that is chosen there, by these ballots instead of those of first shots.
    const counts = { ...EVERYTHING, pages: "mended-1" };
    const counted = await server.services.standings.getStandings(edition.id, counts);
    expect(counted.ballots).toBe(mended!.ballots);
    const figures = ({ versionId, rating }: { versionId: string; rating: number | null }) => [
      versionId,
      rating?.toFixed(6),
    ];
    expect(counted.rows.map(({ version, rating }) => figures({ versionId: version.id, rating })).sort()).toEqual(
      mended!.rows.map(figures).sort(),
    );
    expect((await server.services.standings.getBasis(edition.id)).otherPages).toEqual(["mended-1"]);
    expect((await server.services.standings.getStandings(edition.id, { ...counts, pages: "mended-2" })).ballots).toBe(
      0,
    );
    const file = await server.services.exportService.exportBallots(edition.id, {
      ...{ format: "jsonl", withAll: false, withNames: false, counts },
    });
    let lines = "";
    for await (const chunk of file.chunks) lines += chunk;
    expect(lines.trim().split("\n")).toHaveLength(mended!.ballots);
    const { Bout, Entry, Generation } = server.db.models;
    for (const { leftEntryId } of await Bout.findAll({ where: { contest: "mended" } })) {
      const { generationId } = (await Entry.findByPk(leftEntryId))!;
      expect((await Generation.findByPk(generationId))!.mends).toBe(1);
    }
  });

  it("rates pages after an earlier turn in a table of their own", async () => {
    const { stood } = await vote("turn_pages", () => 1, {
      step: 1,
      promptIds: [edition.prompts.find(({ key }) => key === "staged")!.id],
    });
    expect(stood.length).toBeGreaterThan(0);
    const { Bout, Entry, Generation } = server.db.models;
    for (const { leftEntryId, rightEntryId } of await Bout.findAll({ where: { contest: "turn_pages" } }))
      for (const id of [leftEntryId, rightEntryId])
        expect(await Generation.findByPk((await Entry.findByPk(id))!.generationId)).toMatchObject({
          turn: 1,
          round: 0,
        });
    expect((await results()).pages.map(({ pages }) => pages)).toEqual(["mended-1", "turn-1"]);
    const counted = await server.services.standings.getStandings(edition.id, { ...EVERYTHING, pages: "turn-1" });
    expect(counted.ballots).toBe(stood.length);
  });

  it("leaves ratings, exports and what other panels count as they are, also when a ballot is voided or a voter left out", async () => {
    expect(await standings()).toMatchObject({ ballots: 0, sources: [] });
    const [voter] = await server.services.panels.list(edition.id).then(([panel]) => panel!.voters);
    await server.services.panels.leaveVoterOut(voter!.id, "to see");
    const all = BallotList.parse(await server.services.ballotList.list(edition.id, { only: "all" }));
    expect(all.total).toBeGreaterThan(20);
    expect(all.ballots.some(({ contest, leftForm }) => contest === "mended" && leftForm === "")).toBe(true);
    await server.services.ballotList.void(all.ballots[0]!.id, "to see");
    expect(await standings()).toMatchObject({ ballots: 0, sources: [] });
    const counted = await server.services.ballotList.list(edition.id, { only: "that count" });
    expect(counted.total).toBe(0);
    expect((await server.services.standings.getBasis(edition.id)).ballots.lean).toHaveLength(0);
    await server.services.panels.leaveVoterOut(voter!.id, null);
  });

  it("places a newcomer: it stands in every bout, its ballots are rated, and it is said after how many it was placed", async () => {
    await server.services.entrants.add(byHand("sedge"));
    for (const { key: promptKey } of edition.prompts)
      await server.services.entries.addHandAnswer(edition.id, {
        promptKey,
        entrantKey: "sedge",
        take: 1,
        text: ANSWER,
      });
    await markRecorded(server);
    const entrants = await server.services.entrants.list();
    const newcomerId = entrants.find(({ key }) => key === "sedge")!.id;
    await vote("entrants", () => 1);
    const { stood } = await vote("entrants", ({ left }) => (left === "sedge" ? -1 : 1), { newcomerId });
    for (const { left, right } of stood) expect([left, right]).toContain("sedge");
    const [placed] = (await results()).newcomers;
    expect(placed).toMatchObject({ of: 3, placedAfter: expect.any(Number) as unknown });
    expect(placed!.steps.at(-1)!.ballots).toBeGreaterThanOrEqual(stood.length);
    expect((await standings()).ballots).toBeGreaterThan(stood.length);
  });

  it("refuses a newcomer in another contest", async () => {
    const newcomerId = (await server.services.entrants.list())[0]!.id;
    await expect(vote("takes", () => 0, { newcomerId })).rejects.toThrow();
  });
});
