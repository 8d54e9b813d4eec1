import { createHash } from "node:crypto";
import type { StoppingLook, StoppingPlan, StoppingPlanInput, StoppingState } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { BallotColumns } from "@tourney/core/ratings";
import { lookInSteps, planLooks } from "@tourney/core/stopping";
import { inPieces } from "../in-pieces.js";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import type { StoppingRepository } from "./repository.js";

interface StoppingDeps {
  stopping: StoppingRepository;
  standings: StandingsService;
  suites: SuiteService;
}

/** Keeps the plan by which voting ends, and takes its looks at the ballots. */
export function createStoppingService({ stopping, standings, suites }: StoppingDeps) {
  /** The looks of each edition's plan, by the ballots that they rest on: they are asked for again and again, and fitted only when there is another. */
  const taken = new Map<string, { of: string; looks: StoppingLook[] }>();
  async function takeLooks(plan: StoppingPlan, { entrants, ballots }: { entrants: number; ballots: BallotColumns }) {
    const reached = planLooks(plan).findLast((count) => count <= ballots.outcome.length) ?? 0;
    const of = digestFirst(ballots, reached);
    const last = taken.get(plan.id);
    if (last?.of === of) return last.looks;
    const looks = await inPieces(lookInSteps(plan, entrants, ballots));
    taken.set(plan.id, { of, looks });
    return looks;
  }

  async function getState(editionId: string): Promise<StoppingState> {
    await suites.getEdition(editionId);
    const plans = await stopping.list(editionId);
    const plan = plans.find(({ givenUpAt }) => givenUpAt === null) ?? null;
    const earlier = plans.filter(({ givenUpAt }) => givenUpAt !== null);
    if (plan === null && earlier.length === 0)
      return { plan, earlier, ballots: 0, looks: [], metAfter: null, isOver: false };
    const { versionIds, ballots } = await standings.listRated(editionId);
    const looks = plan === null ? [] : await takeLooks(plan, { entrants: versionIds.length, ballots });
    const metAfter = looks.find(({ isMet }) => isMet)?.ballots ?? null;
    return {
      ...{ plan, earlier, ballots: ballots.outcome.length, looks, metAfter },
      isOver: metAfter !== null || (looks.length > 0 && looks.every(({ isMet }) => isMet !== null)),
    };
  }

  return {
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    getState,
    /** @throws TourneyError NOT_FOUND, CONFLICT while another plan holds, INVALID_INPUT for a plan that is over before it begins */
    async set(editionId: string, input: StoppingPlanInput): Promise<StoppingState> {
      await suites.getEdition(editionId);
      const { ballots } = await standings.listRated(editionId);
      const ballotsBefore = ballots.outcome.length;
      if (input.mostBallots <= ballotsBefore) throw TOO_LATE(ballotsBefore);
      if ((await stopping.add(editionId, { ...input, ballotsBefore })) === null) throw ANOTHER_HOLDS();
      return getState(editionId);
    },
    /** @throws TourneyError NOT_FOUND, CONFLICT where another was set meanwhile */
    async setGivenUp(planId: string, isGivenUp: boolean): Promise<StoppingPlan> {
      if ((await stopping.find(planId)) === null) throw NO_SUCH_PLAN();
      const plan = await stopping.setGivenUp(planId, isGivenUp);
      if (plan === null) throw ANOTHER_HOLDS();
      return plan;
    },
  };
}
export type StoppingService = ReturnType<typeof createStoppingService>;

function digestFirst(ballots: BallotColumns, count: number): string {
  const hash = createHash("sha256");
  for (const column of [ballots.voter, ballots.prompt, ballots.left, ballots.right, ballots.outcome])
    hash.update(Int32Array.from({ length: count }, (_, place) => column[place]!));
  return hash.digest("hex");
}

const TOO_LATE = (ballots: number) =>
  new TourneyError("INVALID_INPUT", {
    message: "The plan would be over before it begins.",
    reason: `${ballots} ballots count already, and a plan looks only at what is cast after it was set.`,
    remedy: `Give it more than ${ballots} ballots.`,
  });

const ANOTHER_HOLDS = () =>
  new TourneyError("CONFLICT", {
    message: "Another stopping plan holds.",
    reason: "A plan that is changed when its ballots are known is no plan.",
    remedy: "Give the other one up first: it stays on record.",
  });

const NO_SUCH_PLAN = () =>
  new TourneyError("NOT_FOUND", {
    message: "There is no such stopping plan.",
    reason: "It may belong to another Tourney.",
    remedy: "Open the standings and see which one holds.",
  });
