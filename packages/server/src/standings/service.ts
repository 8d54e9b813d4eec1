import { setTimeout as sleep } from "node:timers/promises";
import {
  EVERYTHING,
  type Mending,
  type PromptRatings,
  type RatingsBySeeing,
  type RatingsOverTime,
  type Standings,
  type StandingsView,
  type StandingsViewInput,
  type WhatCounts,
} from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { type BallotColumns, makeNumbers, pickNumbers, PRODUCT_OPTIONS } from "@tourney/core/ratings";
import {
  type BasisInColumns,
  choosePrompts,
  countBasis,
  type Counted,
  judgeBallots,
  type PreparedBasis,
  prepareBasis,
  rateBySeeing,
  rateOverTime,
  sumMending,
} from "@tourney/core/standings";
import { isEverything } from "@tourney/core/what-counts";
import { atPace } from "../at-pace.js";
import { inPieces } from "../in-pieces.js";
import type { SuiteService } from "../suites/service.js";
import type { WallService } from "../wall/service.js";
import type { BasisRepository } from "./basis-repository.js";
import { costOf, COUNTING_PACE, restOfCount } from "./counting-pace.js";
import type { Count } from "./counting/count-ballots.js";
import type { Counting } from "./counting/counting.js";
import type { CountOrder } from "./counting/ordered-ballots.js";
import { digestCounted } from "./digest-counted.js";
import type { StandingsRepository } from "./repository.js";
import type { ViewRepository } from "./view-repository.js";

interface StandingsDeps {
  standings: StandingsRepository;
  basis: BasisRepository;
  views: ViewRepository;
  suites: SuiteService;
  wall: WallService;
  counting: Counting;
}

const toIso = (seconds: number) => new Date(seconds * 1000).toISOString();

/** Where ballots come in they are counted every few seconds for snapshots and pages: bouts are chosen by that count, and none is made for them alone. */
const COUNTED_MS = 5000;
/** A count is used for at least ten times as long as it took of the processor, so that counting for bouts takes a tenth of a core at most. */
const COUNTED_TIMES = 10;
/** Where all ballots have to be read first, as after a start, nobody who wants a bout waits longer for them. */
const LONGEST_WAIT_MS = 400;
/** What all ballots come to, with the figures of who competes. */
interface Rated extends Omit<Count, "counted"> {
  counted: Counted;
  numberOf: ReadonlyMap<string, number>;
}

/** Ballots that count, in the order in which they were cast; versions are meant by their numbers, times are seconds since 1970. */
export interface RatedColumns {
  versionIds: string[];
  ballots: BallotColumns;
  at: ArrayLike<number>;
}

function pickCounted(basis: PreparedBasis, counts: WhatCounts): RatedColumns {
  const { ballots, competitors } = basis;
  const leanOf = judgeBallots(basis, counts);
  const most = ballots.lean.length;
  const [places, outcome] = [new Int32Array(most), makeNumbers(most, PRODUCT_OPTIONS.K + 1)];
  let n = 0;
  for (let place = 0; place < most; place++) {
    const lean = leanOf(place);
    if (Number.isNaN(lean)) continue;
    places[n] = place;
    outcome[n++] = lean + 3;
  }
  const column = (name: "voter" | "prompt" | "left" | "right" | "at") =>
    pickNumbers(ballots[name], places.subarray(0, n));
  return {
    versionIds: competitors.map(({ version }) => version.id),
    ballots: {
      ...{ voter: column("voter"), prompt: column("prompt"), left: column("left"), right: column("right") },
      outcome: outcome.subarray(0, n),
    },
    at: column("at"),
  };
}

/**
 * Ratings by the ballots. All of them are counted by a process that holds them; when they have changed, the result is kept as a snapshot. A choice of
 * what counts reads the ballots themselves.
 */
export function createStandingsService({ standings, basis, views, suites, wall, counting }: StandingsDeps) {
  /** By edition the digest of the snapshot that was kept last. */
  const kept = new Map<string, string>();
  /** By edition what was counted last, and when. */
  const last = new Map<string, { rated: Rated; at: number }>();

  async function describeOrder(editionId: string) {
    const [{ competitors }, prompts] = await Promise.all([
      wall.listFigures(editionId),
      standings.listWordedPrompts(editionId),
    ]);
    const order: CountOrder = {
      wordingIds: prompts.map(({ wordingId }) => wordingId),
      competitors: competitors.map(({ entrant, version }) => ({ entrant, version })),
    };
    return { competitors, prompts, order };
  }

  async function count(editionId: string): Promise<Rated> {
    const { competitors, order } = await describeOrder(editionId);
    const { counted, ...found } = await counting.count(order);
    const numberOf = new Map(competitors.map(({ version }, index) => [version.id, index]));
    const rows = counted.rows.map((row) => ({ ...row, ...competitors[numberOf.get(row.version.id)!]! }));
    const rated = { ...found, numberOf, counted: { ...counted, rows } };
    if (kept.get(editionId) !== rated.digest) {
      kept.set(editionId, rated.digest);
      await keepSnapshot(editionId, rated);
    }
    last.set(editionId, { rated, at: performance.now() });
    return rated;
  }
  const rate = atPace(count, {
    keyOf: (editionId: string) => editionId,
    costOf,
    ...COUNTING_PACE,
  });

  async function keepSnapshot(editionId: string, { counted, digest: inputDigest }: Rated): Promise<void> {
    const { methodVersion, ballots, rows, side } = counted;
    if (ballots === 0) return;
    const ratings = rows.map(({ entrant, rating, halfWidth, rankRange }) => ({
      entrantId: entrant.id,
      ...{ rating, halfWidth, rankRange },
    }));
    await standings.keepSnapshot({ editionId, methodVersion, inputDigest, ballots, ratings: { ratings, side } });
  }

  async function describe(editionId: string, rating: Promise<Rated>): Promise<Standings> {
    const [edition, { counted, countedAt, sources }, panels, formerVersions, setAside] = await Promise.all([
      suites.getEdition(editionId),
      rating,
      standings.listPanels(editionId),
      wall.countFormerVersions(editionId),
      standings.countSetAside(editionId),
    ]);
    const summary = { ...edition, promptCount: edition.prompts.length };
    return {
      ...{ edition: summary, counts: EVERYTHING, ...counted, formerVersions, setAside, countedAt },
      sources: sources.flatMap(({ panelId, firstAt, lastAt, ...of }) => {
        const panel = panels.find((one) => one.panelId === panelId);
        // One that was made since the ballots were counted comes with the next count.
        return panel === undefined ? [] : [{ ...panel, ...of, firstAt: toIso(firstAt), lastAt: toIso(lastAt) }];
      }),
    };
  }

  /** @throws TourneyError NOT_FOUND when the edition is not there. */
  async function readBasis(
    editionId: string,
    { withIds = false, pages = EVERYTHING.pages }: { withIds?: boolean; pages?: WhatCounts["pages"] } = {},
  ): Promise<{ basis: BasisInColumns; ballotIds: string[] }> {
    const [edition, { competitors }, tallies, formerVersions, setAside] = await Promise.all([
      suites.getEdition(editionId),
      wall.listFigures(editionId, { versions: "all" }),
      wall.tallyByPrompt(editionId),
      wall.countFormerVersions(editionId),
      standings.countSetAside(editionId),
    ]);
    const readAt = new Date().toISOString();
    const versionIds = competitors.map(({ version }) => version.id);
    const { ballotIds, ...read } = await basis.read(editionId, versionIds, { withIds, pages });
    const promptNumber = new Map(read.prompts.map(({ id }, index) => [id, index]));
    const competitorNumber = new Map(competitors.map(({ version }, index) => [version.id, index]));
    const cells = tallies.filter(
      ({ promptId, versionId }) => promptNumber.has(promptId) && competitorNumber.has(versionId),
    );
    const found: BasisInColumns = {
      edition: { ...edition, promptCount: edition.prompts.length },
      ...read,
      competitors: competitors.map(({ entrant, version }) => ({ entrant, version })),
      cells: {
        prompt: cells.map(({ promptId }) => promptNumber.get(promptId)!),
        competitor: cells.map(({ versionId }) => competitorNumber.get(versionId)!),
        pages: cells.map(({ pages }) => pages),
        none: cells.map(({ none }) => none),
        owed: cells.map(({ owed }) => owed),
        clean: cells.map(({ clean }) => clean),
        tried: cells.map(({ tried }) => tried),
        costed: cells.map(({ costed }) => costed),
        costUsd: cells.map(({ costUsd }) => costUsd),
        tokens: cells.map(({ tokens }) => tokens),
        tokened: cells.map(({ tokened }) => tokened),
        timedTokens: cells.map(({ timedTokens }) => timedTokens),
        timedMs: cells.map(({ timedMs }) => timedMs),
        totalsMs: cells.map(({ totalsMs }) => [...totalsMs]),
      },
      ...{ formerVersions, pages, setAside, readAt },
    };
    return { basis: found, ballotIds };
  }

  /** Judges every ballot by what counts: those that do, each with its lean as it is counted. */
  async function countBallots(editionId: string, counts: WhatCounts) {
    const { basis: found, ballotIds } = await readBasis(editionId, { withIds: true, pages: counts.pages });
    const prepared = prepareBasis(found);
    const leanOf = judgeBallots(prepared, counts);
    const leans = ballotIds.map((id, place) => [id, leanOf(place)] as const);
    return { prepared, counted: new Map(leans.filter(([, lean]) => !Number.isNaN(lean))) };
  }
  const getBasis = async (
    editionId: string,
    { pages }: Pick<WhatCounts, "pages"> = EVERYTHING,
  ): Promise<BasisInColumns> => (await readBasis(editionId, { pages })).basis;

  /** The ballots that count by some choice. */
  async function listRated(editionId: string, counts: WhatCounts = EVERYTHING): Promise<RatedColumns> {
    return pickCounted(prepareBasis(await getBasis(editionId, counts)), counts);
  }
  return {
    getBasis,
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async listViews(editionId: string): Promise<StandingsView[]> {
      await suites.getEdition(editionId);
      return views.list(editionId);
    },
    /** @throws TourneyError NOT_FOUND when the edition is not there, CONFLICT when the name is taken. */
    async keepView(editionId: string, input: StandingsViewInput): Promise<StandingsView> {
      await suites.getEdition(editionId);
      const kept = await views.keep(editionId, input);
      if (kept !== null) return kept;
      throw new TourneyError("CONFLICT", {
        message: `There is a view “${input.name}” already.`,
        reason: "A view is found by its name.",
        remedy: "Choose another name, or remove that view first.",
      });
    },
    removeView: async (viewId: string) => ({ removed: await views.remove(viewId) }),
    listRated,
    /** Ratings after the first ballots that count by some choice, after more, and after all. @throws TourneyError NOT_FOUND when the edition is not there. */
    async getRatingsOverTime(editionId: string, counts: WhatCounts = EVERYTHING): Promise<RatingsOverTime> {
      const { versionIds, ballots, at } = await listRated(editionId, counts);
      return inPieces(rateOverTime(versionIds, ballots, at));
    },
    /** The ballots that count by some choice, each with its lean as it is counted. */
    async listCounted(editionId: string, counts: WhatCounts): Promise<Map<string, number>> {
      return (await countBallots(editionId, counts)).counted;
    },
    /** Standings by some choice with the ballots that count, each with its lean, and their digest. @throws TourneyError NOT_FOUND when the edition is not there. */
    async countOneByOne(editionId: string, counts: WhatCounts) {
      const { prepared, counted } = await countBallots(editionId, counts);
      return {
        ...{ standings: countBasis(prepared, counts).standings, counted },
        inputDigest: digestCounted(prepared, counts),
      };
    },
    /** Where counting is slow, by a count some seconds old. @throws TourneyError NOT_FOUND when the edition is not there. */
    getStandings: async (editionId: string, counts: WhatCounts = EVERYTHING): Promise<Standings> =>
      isEverything(counts)
        ? describe(editionId, rate(editionId))
        : countBasis(prepareBasis(await getBasis(editionId, counts)), counts).standings,
    /** For how many milliseconds ballots are not counted again after they were, whoever asks for standings. */
    restOf(editionId: string): number {
      const counted = last.get(editionId);
      return counted === undefined ? 0 : restOfCount(counted.rated);
    },
    /** By all ballots that there are now. @throws TourneyError NOT_FOUND when the edition is not there. */
    getFreshStandings: (editionId: string): Promise<Standings> => describe(editionId, rate.fresh(editionId)),
    /** Ratings by what voters saw with, of entrants as they are set up now. @throws TourneyError NOT_FOUND when the edition is not there. */
    async getRatingsBySeeing(editionId: string): Promise<RatingsBySeeing> {
      await suites.getEdition(editionId);
      const { competitors } = await wall.listFigures(editionId);
      const versionIds = competitors.map(({ version }) => version.id);
      return rateBySeeing(versionIds, await standings.listSeen(editionId, versionIds));
    },
    /** First shots against mends and corrections, on the prompts that count. @throws TourneyError NOT_FOUND when the edition is not there. */
    async getMending(editionId: string, counts: WhatCounts = EVERYTHING): Promise<Mending[]> {
      const [{ prompts }, tallies] = await Promise.all([suites.getEdition(editionId), wall.tallyMending(editionId)]);
      const described = prompts.map((prompt) => ({ ...prompt, isVariant: prompt.variantOf !== undefined }));
      const counted = choosePrompts(described, counts);
      const own = tallies.filter(({ promptId }) => counted[prompts.findIndex(({ id }) => id === promptId)] === 1);
      return [...new Set(own.map(({ versionId }) => versionId))].map((versionId) => ({
        versionId,
        ...sumMending(own.filter((tally) => tally.versionId === versionId)),
      }));
    },
    /** Ratings on each prompt. */
    async getPromptRatings(editionId: string): Promise<PromptRatings> {
      const { order, prompts } = await describeOrder(editionId);
      return counting.countPrompts(order, prompts);
    },
    /**
     * The fit of an edition's ballots as they were counted last, for choosing the next bout, and how it numbers the versions. When they are counted again nobody waits for it;
     * null where they never were and that takes long.
     */
    async getFit(editionId: string): Promise<{ fit: Count["fit"]; numberOf: ReadonlyMap<string, number> } | null> {
      const known = last.get(editionId);
      if (known !== undefined && performance.now() - known.at < Math.max(COUNTED_MS, COUNTED_TIMES * known.rated.cpuMs))
        return known.rated;
      const counted = rate(editionId);
      if (known === undefined) return Promise.race([counted, sleep(LONGEST_WAIT_MS, null, { ref: false })]);
      // Why a count fails is told to whoever looks at standings.
      counted.catch(() => undefined);
      return known.rated;
    },
  };
}
export type StandingsService = ReturnType<typeof createStandingsService>;
