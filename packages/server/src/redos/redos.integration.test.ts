import { EVERYTHING, type Panel } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import * as z from "zod";
import { sendError, sendStream } from "../../test-support/fake-endpoint.js";
import { ANSWER, byHand, entrantInput, markRecorded } from "../../test-support/scenario.js";
import { withRuns } from "../../test-support/with-runs.js";

const { edition, enter, finish, server, start } = withRuns();
const services = () => server().services;

const page = (text: string) => ANSWER.replace("A page", text);
const cellOf = async (entrantId: string) => {
  const { cells } = await services().wall.getWall(edition().id);
  return cells.find((cell) => cell.entrantId === entrantId);
};
/** An entrant by hand with an answer to the first prompt, to vote against. */
async function addRival() {
  const rival = await services().entrants.add(byHand(`rival-${Math.random().toString(36).slice(2, 8)}`));
  await services().entries.addHandAnswer(edition().id, {
    promptKey: "one",
    entrantKey: rival.key,
    text: page("rival"),
  });
  return rival;
}
async function addPanel(more: object = {}): Promise<Panel> {
  return services().panels.add({ editionId: edition().id, title: "Friends", quota: 20, ...more });
}
const tokenOf = (panel: Panel) => panel.url.split("/").at(-1)!;
const caller = { voterToken: null, isLead: false, address: "192.0.2.1" };
async function join(panel: Panel): Promise<string> {
  const { newToken } = await services().booth.join(tokenOf(panel), caller, { name: "", sample: false });
  return newToken!;
}
async function castAll(panel: Panel, voter: string): Promise<number> {
  let cast = 0;
  for (;;) {
    const [bout] = (await services().booth.getQueue(tokenOf(panel), voter)).bouts;
    if (!bout) return cast;
    const ballot = { leftWorks: true, rightWorks: true, reasons: [], note: "", dwellMs: 1000 };
    await services().booth.cast(bout.token, () => voter, {
      lean: -1,
      ...ballot,
      leftTouched: true,
      seenWith: null,
      rightTouched: true,
    });
    cast++;
  }
}
const countBallots = async () => (await services().standings.getStandings(edition().id)).ballots;

describe("a take that is redone", () => {
  it("has a new answer; the old one stays readable and its ballots are set aside, until the redo is undone", async () => {
    const { entrantId } = await enter((response, attempt) => sendStream(response, page(`answer ${attempt}`)));
    await addRival();
    await finish((await start(entrantId)).id);
    await markRecorded(server());
    const panel = await addPanel();
    const voter = await join(panel);
    const cast = await castAll(panel, voter);
    expect(cast).toBeGreaterThan(0);
    expect(await countBallots()).toBe(cast);
    const old = (await cellOf(entrantId))!.entryId!;

    const redo = await services().redos.redo({
      editionId: edition().id,
      entrantId,
      only: "all",
      reason: "Wrong setting",
    });
    expect(redo).toMatchObject({ superseded: 1, ballots: cast, undoneAt: null });
    expect(await countBallots()).toBe(0);
    expect(await services().standings.getStandings(edition().id)).toMatchObject({ setAside: cast });
    await server().runJobs();
    await markRecorded(server());
    const cell = (await cellOf(entrantId))!;
    expect(cell.entryId).not.toBe(old);
    const [fresh, former] = [
      await services().entries.getDetail(cell.entryId!),
      await services().entries.getDetail(old),
    ];
    expect(fresh.fileTexts[0]!.text).toContain("answer 2");
    expect(fresh.redone).toMatchObject({ why: "Wrong setting", undone: false });
    expect(former.fileTexts[0]!.text).toContain("answer 1");
    expect(former.superseded).toMatchObject({ why: "Wrong setting", holdsId: cell.entryId });
    const aside = await services().ballotList.list(edition().id, { only: "set aside" });
    expect(aside.ballots.map(({ voided }) => voided?.by)).toEqual(Array(cast).fill("redo"));

    await services().redos.undo(redo.id);
    expect((await cellOf(entrantId))!.entryId).toBe(old);
    expect(await countBallots()).toBe(cast);
    expect((await services().entries.getDetail(cell.entryId!)).superseded).not.toBeNull();
    await expect(services().redos.undo(redo.id)).rejects.toThrow("undone already");
    const trail = (await services().panels.listAudit(edition().id)).map(({ action }) => action);
    expect(trail.slice(0, 2)).toEqual(["let former answers hold again", "asked for takes again"]);
  });

  it("is refused while it is on its way, where nothing is, and for another redo's place; nothing changes", async () => {
    const { entrantId } = await enter((response, attempt) => sendStream(response, page(`answer ${attempt}`)));
    const ask = () => services().redos.redo({ editionId: edition().id, entrantId, only: "all", reason: "Once more" });
    await expect(ask()).rejects.toThrow("nothing to redo");
    const { id } = await start(entrantId);
    await expect(ask()).rejects.toThrow("is on its way");
    await finish(id);
    const first = await ask();
    await server().runJobs();
    const second = await ask();
    await server().runJobs();
    await expect(services().redos.undo(first.id)).rejects.toThrow("Another answer holds in its place now.");
    await services().redos.undo(second.id);
    await services().redos.undo(first.id);
    const { entryId } = (await cellOf(entrantId))!;
    expect((await services().entries.getDetail(entryId!)).fileTexts[0]!.text).toContain("answer 1");
  });

  it("whose answer was by hand is free for another import", async () => {
    const rival = await addRival();
    const again = { promptKey: "one", entrantKey: rival.key, text: page("a better one") };
    await expect(services().entries.addHandAnswer(edition().id, again)).rejects.toThrow("already (answered)");
    const redo = await services().redos.redo({
      editionId: edition().id,
      entrantId: rival.id,
      only: "all",
      reason: "Cut off",
    });
    expect(redo.runId).toBeNull();
    expect(await services().entries.addHandAnswer(edition().id, again)).toMatchObject({ created: true });
  });

  it("cannot be had by a retry, which says so", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    const { id } = await start(entrantId);
    await finish(id);
    await expect(services().runs.retry(id)).rejects.toThrow("There is nothing to retry.");
  });
});

describe("an entrant that is set up otherwise", () => {
  it("has its former answers out of the wall's front, the booth and the ratings, as a competitor of their own", async () => {
    const { entrantId, fake } = await enter((response, attempt) => sendStream(response, page(`answer ${attempt}`)));
    await addRival();
    await finish((await start(entrantId)).id);
    await markRecorded(server());
    const panel = await addPanel();
    const cast = await castAll(panel, await join(panel));
    const { key, name } = (await services().entrants.list()).find(({ id }) => id === entrantId)!;
    const setUp = (temperature?: number) =>
      services().entrants.replace(
        entrantId,
        entrantInput(key, fake.baseUrl, { name, settings: temperature === undefined ? {} : { temperature } }),
      );
    expect(await setUp(0.5)).toMatchObject({ version: 2, versions: 2 });
    expect(await cellOf(entrantId)).toBeUndefined();
    expect(await countBallots()).toBe(0);
    const later = await addPanel();
    expect((await services().booth.getQueue(tokenOf(later), await join(later))).bouts).toEqual([]);
    const all = await services().standings.getStandings(edition().id, { ...EVERYTHING, versions: "all" });
    expect(all.ballots).toBe(cast);
    expect(
      all.rows
        .filter(({ entrant }) => entrant.id === entrantId)
        .map(({ version }) => version.isPresent)
        .sort(),
    ).toEqual([false, true]);
    const columns = (await services().wall.getWall(edition().id, { versions: "all" })).entrants;
    expect(columns.filter(({ id }) => id === entrantId).map(({ version }) => version.number)).toEqual([2, 1]);

    // What is missing now is asked for with the new settings; both takes stand beside each other.
    await finish((await start(entrantId)).id);
    const entry = await services().entries.getDetail((await cellOf(entrantId))!.entryId!);
    expect(entry.version).toMatchObject({ number: 2, isPresent: true });
    expect(entry.take).toBe(1);

    // A set-up that it had before brings its answers and ballots back.
    expect(await setUp()).toMatchObject({ version: 1, versions: 2 });
    expect(await countBallots()).toBe(cast);
    expect((await services().entries.getDetail(entry.id)).version).toMatchObject({ number: 2, isPresent: false });
  });

  it("keeps its answers where only name, prices, aliases or limits changed", async () => {
    const { entrantId, fake } = await enter((response) => sendStream(response, ANSWER));
    await finish((await start(entrantId)).id);
    const { key } = (await services().entrants.list()).find(({ id }) => id === entrantId)!;
    const changed = entrantInput(key, fake.baseUrl, {
      name: `Renamed ${key}`,
      aliases: ["gorse, the"],
      prices: { input: 99, output: 99 },
      settings: { timeLimits: { totalSeconds: 7 } },
    });
    expect(await services().entrants.replace(entrantId, changed)).toMatchObject({ version: 1, versions: 1 });
    expect((await cellOf(entrantId))?.entryId).toBeTruthy();
  });

  it("is sent what waits with the new settings, but finishes a take that has begun with the old ones", async () => {
    const models: string[] = [];
    const { entrantId, fake } = await enter((response, _attempt, request) => {
      request.on("data", (chunk: Buffer) => models.push((JSON.parse(chunk.toString()) as { model: string }).model));
      sendStream(response, ANSWER);
    });
    const { key, name } = (await services().entrants.list()).find(({ id }) => id === entrantId)!;
    await start(entrantId, {}, 2);
    await services().entrants.replace(entrantId, entrantInput(key, fake.baseUrl, { name, model: "next-model" }));
    await server().runJobs();
    expect(models).toEqual(["next-model", "next-model"]);
    const versions = await services().entrants.listVersions(entrantId);
    // The first had answered nothing, so that it was changed in its place.
    expect(versions).toMatchObject([
      { number: 1, content: { model: "the-model" } },
      { number: 2, generations: 2 },
    ]);
  });
});

describe("an answer by another model than was asked for", () => {
  it("is kept from voters until the lead lets it count", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER, { model: "another" }));
    await addRival();
    await finish((await start(entrantId)).id);
    await markRecorded(server());
    const cell = (await cellOf(entrantId))!;
    expect(cell).toMatchObject({ mismatch: true, keptFromVoters: true });
    const panel = await addPanel();
    expect((await services().booth.getQueue(tokenOf(panel), await join(panel))).bouts).toEqual([]);
    await services().judgements.acceptMismatch(cell.entryId!, true);
    expect(await cellOf(entrantId)).toMatchObject({ mismatch: true, keptFromVoters: false });
    const later = await addPanel();
    const cast = await castAll(later, await join(later));
    expect(cast).toBeGreaterThan(0);
    await services().judgements.acceptMismatch(cell.entryId!, false);
    expect(await countBallots()).toBe(0);
    await services().judgements.acceptMismatch(cell.entryId!, true);
    expect(await countBallots()).toBe(cast);
  });

  it("can be asked for again alone", async () => {
    let model = "another";
    const { entrantId } = await enter((response) => sendStream(response, ANSWER, { model }));
    await finish((await start(entrantId, {}, 2)).id);
    model = "the-model";
    const { superseded } = await services().redos.redo({
      editionId: edition().id,
      only: "mismatched",
      reason: "Wrong model",
    });
    expect(superseded).toBe(2);
    await server().runJobs();
    expect((await services().wall.getWall(edition().id)).cells.every(({ mismatch }) => !mismatch)).toBe(true);
  });
});

describe("not delivering", () => {
  const REFUSAL = "I cannot help with that request.";

  it("loses without being shown, unless the panel leaves it out; the host's failures are left out and owed", async () => {
    const { entrantId: refusing } = await enter((response) => sendStream(response, REFUSAL));
    const { entrantId: down } = await enter((response) => sendError(response, 401, "Incorrect key"));
    const rival = await addRival();
    for (const id of [refusing, down]) await finish((await start(id)).id);
    await markRecorded(server());
    const lenient = await addPanel({ undeliveredRule: "leave_out" });
    expect((await services().booth.getQueue(tokenOf(lenient), await join(lenient))).exhausted).toBe(true);
    expect(await countBallots()).toBe(0);

    const panel = await addPanel();
    // Nobody is shown anything: the bout is decided as it is issued.
    expect((await services().booth.getQueue(tokenOf(panel), await join(panel))).bouts).toEqual([]);
    const standings = await services().standings.getStandings(edition().id);
    expect(standings.ballots).toBeGreaterThan(0);
    const rowOf = (id: string) => standings.rows.find(({ entrant }) => entrant.id === id)!;
    expect(rowOf(rival.id).rating!).toBeGreaterThan(rowOf(refusing).rating!);
    expect(rowOf(refusing).delivery).toEqual({ pages: 0, none: 1, owed: 0 });
    expect(rowOf(down)).toMatchObject({ rating: null, delivery: { pages: 0, none: 0, owed: 1 } });
    expect(standings.sources.find(({ panelId }) => panelId === panel.id)).toMatchObject({
      undeliveredRule: "lose",
      unseen: standings.ballots,
    });
  });
});

describe("standings of the next edition", () => {
  it("begin with the ballots on the wordings that it kept, and say where they come from", async () => {
    const { entrantId } = await enter((response) => sendStream(response, ANSWER));
    await addRival();
    await finish((await start(entrantId)).id);
    await markRecorded(server());
    const panel = await addPanel();
    const cast = await castAll(panel, await join(panel));
    const { yaml } = await services().suites.exportFile(edition().id);
    const { edition: next } = await services().suites.importSuite(yaml.replace("title: two", "title: Two renamed"));
    const standings = await services().standings.getStandings(next.id);
    expect(standings.ballots).toBe(cast);
    expect(standings.sources).toMatchObject([{ panelId: panel.id, title: "Friends", ballots: cast }]);
    const { edition: other } = await services().suites.importSuite(yaml.replace(/build one\./, "build one anew."));
    expect((await services().standings.getStandings(other.id)).ballots).toBe(0);
  });

  it("note with each ballot which briefing its voter read", async () => {
    const [row] = await server().db.select(
      z.object({ n: z.int() }),
      `SELECT count(*)::int AS n FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN prompts q ON q.id = o.prompt_id
       WHERE q.wording_id = o.wording_id AND q.briefing_digest <> ''`,
    );
    const [all] = await server().db.select(z.object({ n: z.int() }), "SELECT count(*)::int AS n FROM ballots");
    expect(row!.n).toBe(all!.n);
    expect(all!.n).toBeGreaterThan(0);
  });
});
