import {
  type CellState,
  type CompetitorVersion,
  type Entrant,
  type Grid,
  RENDERER_VERSION,
  type Strip,
  type Wall,
  type WallCell,
} from "@tourney/core/contract";
import { type CellTally, type CompetitorFigures, tallyMending } from "@tourney/core/standings";
import type { Stamps } from "../changes/changes.js";
import { Kept, UNCHANGING } from "../changes/kept.js";
import { RowsByWording } from "../changes/rows-by-wording.js";
import type { EntrantService } from "../entrants/service.js";
import type { SuiteService } from "../suites/service.js";
import { noSuchEntry } from "../entries/no-such-entry.js";
import { countTakes, type FactsByWording, FiguresByVersion, isClean, isTried, tallyByVersion } from "./cell-figures.js";
import type { WallRepository } from "./repository.js";
import type {
  CellFacts,
  CellRow,
  CellStanding,
  FormerRow,
  RoundCountRow,
  RoundRow,
  Versions,
} from "./wall-queries.sql.js";

/** What has a column and a rating of its own: an entrant as it is set up now, or an older version of it. */
export interface Competitor extends CompetitorFigures {
  entrant: Entrant;
  version: CompetitorVersion;
}

/** What a cell shows, and the one line that says why where something is wrong. */
export function describeCell(row: CellRow): { state: CellState; detail: string | null } {
  const state = stateOf(row);
  return { state, detail: detailOf(state, row) };
}

/** The state of a cell by how far it has come. */
export function stateOf({ state, verdict, outcome, hasPage, renderState }: CellStanding): CellState {
  switch (state) {
    case "waiting":
    case "queued":
    case "admitted":
      return "queued";
    case "cancelled":
      return "missing";
    case "held":
    case "running":
    case "failed":
      return state;
    case "answered":
      if (verdict === null) return outcome === "untaken" ? "failed" : "recording";
      if (verdict === "refusal" || outcome === "refused") return "refused";
      if (!hasPage) return "no_artifact";
      return renderState === null || renderState === "queued" ? "recording" : renderState;
  }
}

function detailOf(state: CellState, row: CellRow): string | null {
  const failure = row.failures.at(-1);
  switch (state) {
    case "queued":
      if (row.state === "waiting") return "Waits for the turn before";
      return failure ? `${failure.message} Trying again.` : null;
    case "held":
      return row.outcomeDetail;
    case "running":
      return null;
    case "missing":
      return "Cancelled";
    case "failed":
      return row.renderState === "failed" ? row.renderError : (failure?.message ?? "No answer");
    case "refused":
      return "Declined to answer";
    case "no_artifact":
      return row.verdict === "empty" ? "Empty answer" : "Nothing a browser can run";
    case "recorded":
      return describeRecorded(row);
    case "recording":
      if (row.verdict !== null) return null;
      return failure?.cause === "storage"
        ? `${failure.message} ${failure.remedy} It is tried again by itself.`
        : "Taking out the artifact";
  }
}

/** What the lead should know of an entry that is there: another model answered, or not what was asked for. */
function describeRecorded({
  verdict,
  outcome,
  outcomeDetail,
  isMismatch,
  isMismatchAccepted,
  offTask,
  reportedModel,
  requestedModel,
}: CellRow): string | null {
  if (isMismatch)
    return `Answered by ${reportedModel!}, asked for ${requestedModel}${isMismatchAccepted ? "; accepted" : "; not voted on"}`;
  if (offTask !== null) return `Not what was asked for: ${offTask}`;
  if (outcome === "wrong_thing") return outcomeDetail;
  return verdict === "truncated" ? "Cut off" : null;
}

export interface Figures {
  facts: FactsByWording;
  competitors: Competitor[];
}

/** Where reading all cells takes long, it is done at most one part in so many of the time. */
const SPARING = 8;

/** What a wall shows: one take and round, of entrants as they are set up now or of all versions. */
export interface WallOptions {
  take: number;
  round: number;
  versions: Versions;
}
const FIRST_SHOTS: WallOptions = { take: 1, round: 0, versions: "present" };
/** Cells with the wordings they answer. */
export type WallCells = { wordingId: string; cell: WallCell }[];
interface WallDeps {
  wall: WallRepository;
  suites: SuiteService;
  entrants: EntrantService;
}

/** First shots of a version on a prompt. */
type PromptTally = { promptId: string; versionId: string } & CellTally;

export function createWallService({ wall, suites, entrants }: WallDeps) {
  const facts = new RowsByWording<CellFacts>();
  const listFacts = (editionId: string, versions: Versions, takes: number | null = null) =>
    facts.listGroups(`${editionId} ${versions} ${takes}`, (wordingIds) =>
      wall.listFacts(editionId, versions, { takes, wordingIds }),
    );
  const rounds = new RowsByWording<RoundRow>();
  /** By edition: standings and the course of the job ask for them all the time, and ballots do not change them. */
  const figures = new Kept<Figures>(null, { rests: SPARING });
  const summariesOf = new Kept<FiguresByVersion>(UNCHANGING);
  /** Every take's facts, and each competitor with the figures that follow from them. */
  const listFigures = (editionId: string, { versions = "present" }: { versions?: Versions } = {}): Promise<Figures> =>
    figures.get(`${editionId} ${versions}`, () => readFigures(editionId, versions));

  async function readFigures(editionId: string, versions: Versions): Promise<Figures> {
    const [all, facts, former] = await Promise.all([
      entrants.list(),
      listFacts(editionId, versions),
      versions === "all" ? listFormerVersions(editionId) : [],
    ]);
    const summaries = await summariesOf.get(`${editionId} ${versions}`, () => Promise.resolve(new FiguresByVersion()));
    summaries.follow(facts);
    const competitors = all.flatMap((entrant): Competitor[] =>
      [presentVersion(entrant), ...former.filter(({ entrantId }) => entrantId === entrant.id).map(toFormer)].map(
        (version) => ({ entrant, version, ...summaries.get(version.id) }),
      ),
    );
    return { facts, competitors };
  }
  const formerVersions = new Kept<FormerRow[]>(null);
  const listFormerVersions = (editionId: string): Promise<FormerRow[]> =>
    formerVersions.get(editionId, () => wall.listFormerVersions(editionId));
  const roundCounts = new RowsByWording<RoundCountRow>();
  async function countRounds(editionId: string): Promise<number> {
    const rows = await roundCounts.list(editionId, (wordingIds) => wall.countRounds(editionId, wordingIds));
    return rows.reduce((most, { rounds }) => Math.max(most, rounds), 0);
  }
  const tallies = new Kept<PromptTally[]>(null);
  /** How the first shots of each version on each prompt ended, of takes up to a number or of all. */
  const tallyByPrompt = (editionId: string, takes: number | null = null): Promise<PromptTally[]> =>
    tallies.get(`${editionId} ${takes}`, () => readTallies(editionId, takes));

  async function readTallies(editionId: string, takes: number | null): Promise<PromptTally[]> {
    const groups = await listFacts(editionId, "all", takes);
    return [...groups.values()].flatMap((facts) => {
      const { promptId } = facts[0]!;
      return [...tallyByVersion(facts)].map(([versionId, tally]) => ({ promptId, versionId, ...tally }));
    });
  }

  /** A wall but for its cells. */
  async function getHead(editionId: string, { take, round, versions }: WallOptions): Promise<Omit<Wall, "cells">> {
    const [edition, figures, former, roundCount] = await Promise.all([
      suites.getEdition(editionId),
      listFigures(editionId, { versions }),
      listFormerVersions(editionId),
      countRounds(editionId),
    ]);
    return {
      edition: { ...edition, promptCount: edition.prompts.length },
      prompts: edition.prompts,
      entrants: figures.competitors.map(({ entrant, ...figuresOfOne }) => ({ ...toColumn(entrant), ...figuresOfOne })),
      formerVersions: former.length,
      takes: countTakes(figures.facts),
      ...{ take, rounds: roundCount, round },
    };
  }

  /** @param wordingIds of the cells that are wanted; null or none for all */
  async function listCells(
    editionId: string,
    { wordingIds = null, ...options }: WallOptions & { wordingIds?: readonly string[] | null },
  ): Promise<WallCells> {
    const rows = wordingIds?.length === 0 ? [] : await wall.listCells(editionId, options, wordingIds);
    return rows.map((row) => ({ wordingId: row.wordingId, cell: toCell(row) }));
  }

  return {
    listFigures,
    /** From now on figures are read again when cells have changed, not each time. @param rests where it is not the usual one, as `Kept` says. */
    follow(changes: Stamps, rests?: number) {
      facts.follow(changes);
      rounds.follow(changes);
      figures.follow(changes, rests);
      formerVersions.follow(changes);
      roundCounts.follow(changes);
      tallies.follow(changes);
    },
    tallyByPrompt,
    /** What mends and corrections came to, by prompt and version. */
    async tallyMending(editionId: string) {
      const rows = await rounds.list(editionId, (wordingIds) => wall.listRounds(editionId, wordingIds));
      return tallyMending(rows.map((row) => ({ ...row, isTried: isTried(row), isClean: isClean(row) })));
    },
    countFormerVersions: async (editionId: string) => (await listFormerVersions(editionId)).length,
    getHead,
    listCells,
    /** All of it, at once. */
    async getWall(editionId: string, options: Partial<WallOptions> = {}): Promise<Wall> {
      const all = { ...FIRST_SHOTS, ...options };
      const [head, cells] = await Promise.all([getHead(editionId, all), listCells(editionId, all)]);
      return { ...head, cells: cells.map(({ cell }) => cell) };
    },
    async getStrip(entryId: string, editionId: string | null): Promise<Strip> {
      const strip = await wall.findStrip(entryId, editionId);
      if (strip === undefined) throw noSuchEntry(entryId);
      return strip;
    },
    async getGrid(editionId: string): Promise<Grid> {
      const [edition, all, rows] = await Promise.all([
        suites.getEdition(editionId),
        entrants.list(),
        wall.listGrid(editionId),
      ]);
      const at = new Map(rows.map(({ promptId, entrantId, there }) => [`${promptId} ${entrantId}`, there]));
      return {
        editionId,
        prompts: edition.prompts,
        entrants: all.map(toColumn),
        there: edition.prompts.map(({ id }) => all.map((entrant) => at.get(`${id} ${entrant.id}`) ?? 0)),
      };
    },
  };
}
export type WallService = ReturnType<typeof createWallService>;

const presentVersion = ({ versionId, version }: Entrant): CompetitorVersion => ({
  id: versionId,
  number: version,
  isPresent: true,
  until: null,
});

const toFormer = ({ id, number, until }: FormerRow): CompetitorVersion => ({ id, number, until, isPresent: false });

const toColumn = (entrant: Entrant) => ({
  ...entrant,
  byHand: entrant.endpoint.protocol === "by-hand",
  retired: entrant.retiredAt !== null,
});

function findStaleness({ rendererVersion, isOtherRecipe }: CellRow): WallCell["stale"] {
  if (rendererVersion === null) return null;
  if (rendererVersion !== RENDERER_VERSION) return "renderer";
  return isOtherRecipe ? "recipe" : null;
}

/** One finding of each rule, an error before a warning. */
function worstOfEachRule(findings: WallCell["findings"]): WallCell["findings"] {
  const worst = new Map<string, WallCell["findings"][number]>();
  for (const finding of findings) {
    const known = worst.get(finding.rule);
    if (known === undefined || (known.severity !== "error" && finding.severity === "error"))
      worst.set(finding.rule, finding);
  }
  return [...worst.values()];
}

function toCell(row: CellRow): WallCell {
  const { promptId, entrantId, versionId, take, entryId, verdict, answeredAt, isMismatch, picture, motion, entries } =
    row;
  return {
    ...{ promptId, entrantId, versionId, take, entryId, verdict, answeredAt, picture, entries },
    ...describeCell(row),
    mismatch: isMismatch,
    keptFromVoters: isMismatch && !row.isMismatchAccepted,
    stale: findStaleness(row),
    motion: (motion ?? []).map((share) => Math.round(share * 1000) / 1000),
    findings: worstOfEachRule(row.findings ?? []),
  };
}
