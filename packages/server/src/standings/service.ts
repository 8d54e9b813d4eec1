import type { Kind, PromptRatings, Standings } from "@tourney/core/contract";
import { cached } from "../cached.js";
import type { SuiteService } from "../suites/service.js";
import type { WallService } from "../wall/service.js";
import type { Versions } from "../wall/wall-queries.sql.js";
import { countByPrompt, countStandings, digestTallies } from "./count-standings.js";
import type { Scope, StandingsRepository, Tallies } from "./repository.js";

interface StandingsDeps {
  standings: StandingsRepository;
  suites: SuiteService;
  wall: WallService;
}

type Rated = ReturnType<typeof countStandings> & { digest: string; countedAt: string; tallies: Tallies };

/** The fit that bouts are chosen by may be this old: what the ballots since then teach is a detail. */
const FIT_MS = 1000;
/** At most one part in this many of the time is spent on it. */
const SPARING = 40;
/** Results kept in memory: a few editions by kind and by versions. */
const MOST_RATED = 50;

/** What standings are asked for: an edition, one kind of prompt or all, entrants as they are set up now or all versions. */
export interface StandingsQuery {
  kind?: Kind | null | undefined;
  versions?: Versions;
}

/**
 * Ratings by the counts of the ballots. The counts are read each time, which costs the same however many ballots there are; the fit is
 * made anew only when they have changed, and then kept as a snapshot.
 */
export function createStandingsService({ standings, suites, wall }: StandingsDeps) {
  const rated = new Map<string, Rated>();

  function remember(key: string, fresh: Rated): void {
    rated.delete(key);
    rated.set(key, fresh);
    for (const oldest of rated.keys()) if (rated.size > MOST_RATED) rated.delete(oldest);
  }

  async function rate(scope: Scope): Promise<Rated> {
    const { editionId, kind, versions } = scope;
    const [{ competitors }, tallies] = await Promise.all([
      wall.listFigures(editionId, { kind, versions }),
      standings.listTallies(scope),
    ]);
    const key = `${editionId} ${kind ?? ""} ${versions}`;
    const digest = digestTallies(tallies);
    const last = rated.get(key);
    const isSameList = competitors.every(({ version }, index) => last?.numberOf.get(version.id) === index);
    if (last?.digest === digest && isSameList && last.numberOf.size === competitors.length) {
      const rows = last.counted.rows.map((row) => ({ ...row, ...competitors[last.numberOf.get(row.version.id)!]! }));
      return { ...last, counted: { ...last.counted, rows } };
    }
    const fresh = { ...countStandings(competitors, tallies), tallies, digest, countedAt: new Date().toISOString() };
    remember(key, fresh);
    if (versions === "present") await keepSnapshot(scope, fresh);
    return fresh;
  }

  async function keepSnapshot({ editionId, kind }: Scope, { counted, digest: inputDigest }: Rated): Promise<void> {
    const { methodVersion, ballots, rows, side } = counted;
    if (ballots === 0) return;
    const ratings = rows.map(({ entrant, rating, halfWidth, rankRange }) => ({
      entrantId: entrant.id,
      ...{ rating, halfWidth, rankRange },
    }));
    await standings.keepSnapshot({ editionId, kind, methodVersion, inputDigest, ballots, ratings: { ratings, side } });
  }

  return {
    async getStandings(
      editionId: string,
      { kind = null, versions = "present" }: StandingsQuery = {},
    ): Promise<Standings> {
      const scope = { editionId, kind, versions };
      const [edition, { counted, countedAt }, sources, formerVersions, setAside] = await Promise.all([
        suites.getEdition(editionId),
        rate(scope),
        standings.listSources(scope),
        wall.countFormerVersions(editionId),
        standings.countSetAside(scope),
      ]);
      const summary = { ...edition, promptCount: edition.prompts.length };
      return { edition: summary, kind, versions, ...counted, sources, formerVersions, setAside, countedAt };
    },
    /** Ratings on each prompt: asked for with the wall, which is looked at all the time. */
    getPromptRatings: cached(
      async (editionId: string): Promise<PromptRatings> => {
        const [{ numberOf, tallies, fit, counted }, prompts] = await Promise.all([
          rate({ editionId, kind: null, versions: "present" }),
          standings.listWordedPrompts(editionId),
        ]);
        return {
          overall: counted.rows.map(({ version, rating }) => ({ versionId: version.id, rating })),
          ...countByPrompt({ fit, numberOf }, tallies, prompts),
        };
      },
      { keyOf: (editionId) => editionId, keptMs: FIT_MS, sparing: SPARING },
    ),
    /** The fit of an edition's ballots so far, for choosing the next bout, and how it numbers the versions. */
    getFit: cached(
      (editionId: string): Promise<Pick<Rated, "fit" | "numberOf">> =>
        rate({ editionId, kind: null, versions: "present" }),
      {
        keyOf: (editionId) => editionId,
        keptMs: FIT_MS,
        sparing: SPARING,
      },
    ),
  };
}
export type StandingsService = ReturnType<typeof createStandingsService>;
