import type { CellState, Course, Standings } from "@tourney/core/contract";
import type { EntrantService } from "../entrants/service.js";
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
      const facts = [...figures.facts.values()].flat();
      const found = facts.map((fact) => ({ ...fact, shown: stateOf(fact) }));
      const cells = countCells(found);
      const leaders = findLeaders(standingsNow);
      return {
        title: edition.suiteTitle,
        sample: edition.sample,
        edition,
        entrants: all.length,
        cells: { ...cells, costUsd: facts.reduce((sum, { costUsd }) => sum + (costUsd ?? 0), 0) },
        needLook: sumCells(found.filter(({ shown, hasError }) => BROKEN.has(shown) || hasError)),
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

const sumCells = (facts: readonly CellFacts[]) => facts.reduce((sum, { cells }) => sum + cells, 0);

function countCells(facts: readonly (CellFacts & { shown: CellState })[]): Omit<Course["cells"], "costUsd"> {
  const planned = facts.filter(({ shown }) => shown !== "missing");
  return {
    total: sumCells(planned),
    answered: sumCells(planned.filter(({ hasEntry }) => hasEntry)),
    failed: sumCells(planned.filter(({ shown, hasEntry }) => shown === "failed" && !hasEntry)),
    open: sumCells(planned.filter(({ shown }) => IN_WORK.has(shown))),
  };
}

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
