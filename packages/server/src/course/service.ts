import type { Course, Standings } from "@tourney/core/contract";
import type { EntrantService } from "../entrants/service.js";
import { oncePer } from "../once-per.js";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import type { CellFacts } from "../wall/wall-queries.sql.js";
import { stateOf, type WallService } from "../wall/service.js";

interface CourseDeps {
  suites: SuiteService;
  entrants: EntrantService;
  wall: WallService;
  standings: StandingsService;
}

const IN_WORK = new Set(["queued", "running", "recording"]);
const BROKEN = new Set(["failed", "refused", "no_artifact"]);

/** The state of each step of the job for an edition, and which one needs the lead next. */
export function createCourseService({ suites, entrants, wall, standings }: CourseDeps) {
  return {
    /** @param editionId the newest edition unless it names one. */
    async getCourse(editionId?: string): Promise<Course> {
      const [editions, all] = await Promise.all([suites.listEditions(), entrants.list()]);
      const edition = editions.find(({ id }) => id === editionId) ?? editions[0];
      if (!edition) return { ...EMPTY, entrants: all.length };
      const [figures, standingsNow] = await Promise.all([
        wall.listFigures(edition.id),
        standings.getStandings(edition.id),
      ]);
      const { needLook, ...cells } = sumUp([...figures.facts.values()].map(countCells));
      const leaders = findLeaders(standingsNow);
      return {
        title: edition.suiteTitle,
        sample: edition.sample,
        edition,
        entrants: all.length,
        ...{ cells, needLook },
        ballots: standingsNow.ballots,
        voters: standingsNow.voters,
        leaders,
        next: chooseNext({ entrants: all.length, ...cells, ballots: standingsNow.ballots, leaders: leaders.length }),
      };
    },
  };
}
export type CourseService = ReturnType<typeof createCourseService>;

const EMPTY: Course = {
  title: null,
  sample: false,
  edition: null,
  entrants: 0,
  needLook: 0,
  ballots: 0,
  voters: 0,
  leaders: [],
  next: "suite",
  cells: { total: 0, answered: 0, failed: 0, open: 0, costUsd: 0 },
};

/** How far the cells of a wording have come. */
type CellCounts = Course["cells"] & Pick<Course, "needLook">;

const sumUp = (counts: readonly CellCounts[]): CellCounts => {
  const sumOf = (what: keyof CellCounts) => counts.reduce((sum, one) => sum + one[what], 0);
  const sums = { total: sumOf("total"), answered: sumOf("answered"), failed: sumOf("failed"), open: sumOf("open") };
  return { ...sums, costUsd: sumOf("costUsd"), needLook: sumOf("needLook") };
};

/** By the facts of a wording, which are others when one of its cells has changed: every ballot has the course read again, and to go through 15,000 cells takes the server 100 ms. */
const countCells = oncePer((facts: readonly CellFacts[]): CellCounts => {
  const counts = { total: 0, answered: 0, failed: 0, open: 0, costUsd: 0, needLook: 0 };
  for (const fact of facts) {
    const { cells, hasEntry, hasError, costUsd } = fact;
    const shown = stateOf(fact);
    counts.costUsd += costUsd ?? 0;
    if (BROKEN.has(shown) || hasError) counts.needLook += cells;
    if (shown === "missing") continue;
    counts.total += cells;
    if (hasEntry) counts.answered += cells;
    else if (shown === "failed") counts.failed += cells;
    if (IN_WORK.has(shown)) counts.open += cells;
  }
  return counts;
});

/** Everyone whose best supported rank is 1: the leader, or all it cannot be told apart from. */
function findLeaders({ rows }: Standings): string[] {
  return rows.filter(({ rankRange }) => rankRange?.[0] === 1).map(({ entrant }) => entrant.name);
}

function chooseNext(now: {
  entrants: number;
  total: number;
  failed: number;
  open: number;
  ballots: number;
  leaders: number;
}): Course["next"] {
  if (now.entrants === 0) return "entrants";
  if (now.total === 0 || now.open > 0 || now.failed > 0) return "runs";
  if (now.ballots === 0 || now.leaders !== 1) return "voting";
  return "standings";
}
