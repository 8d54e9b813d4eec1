import { type Between, describeForms, describeTakes, placeNewcomer, ratePages } from "@tourney/core/contests";
import { type Contest, type ContestResults, FormContest, type Placement } from "@tourney/core/contract";
import { namePages } from "@tourney/core/what-counts";
import { inPieces } from "../in-pieces.js";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import type { ContestRepository } from "./repository.js";

interface ContestDeps {
  contests: ContestRepository;
  standings: StandingsService;
  suites: SuiteService;
}

/** Says what contests beside the ratings came to, each from its own ballots, and how surely newcomers stand where. */
export function createContestService({ contests, standings, suites }: ContestDeps) {
  async function findBetween(editionId: string): Promise<Between> {
    const moments = await contests.listBetween(editionId);
    const ballots = moments.reduce((sum, row) => sum + row.ballots, 0);
    const leanings = moments.reduce((sum, row) => sum + row.leanings, 0);
    return { moments, distance: ballots === 0 ? null : leanings / ballots };
  }

  async function placeNewcomers(editionId: string): Promise<Placement[]> {
    const newcomers = await contests.listNewcomers(editionId);
    if (newcomers.length === 0) return [];
    const { versionIds, ballots } = await standings.listRated(editionId);
    const placed: Placement[] = [];
    for (const versionId of newcomers)
      placed.push(await inPieces(placeNewcomer({ versionIds, newcomer: versionIds.indexOf(versionId), ballots })));
    return placed;
  }

  return {
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async getResults(editionId: string): Promise<ContestResults> {
      await suites.getEdition(editionId);
      const rows = await contests.listBallots(editionId);
      const of = (contest: Contest) => rows.filter((row) => row.contest === contest);
      const takes = of("takes");
      const others = [...of("mended"), ...of("turn_pages")].map((row) => ({
        ...row,
        pages: namePages(row.contest, row.step),
      }));
      const pages = [...new Set(others.map((row) => row.pages))].toSorted();
      return {
        forms: FormContest.shape.contest.options.flatMap((contest) => {
          const own = of(contest);
          return own.length === 0 ? [] : [describeForms(contest, own)];
        }),
        takes: takes.length === 0 ? null : describeTakes(takes, await findBetween(editionId)),
        pages: pages.map((own) =>
          ratePages(
            own,
            others.filter((row) => row.pages === own),
          ),
        ),
        newcomers: await placeNewcomers(editionId),
      };
    },
  };
}
