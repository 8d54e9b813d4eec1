import type { Placement } from "../contract/index.js";
import { type BallotColumns, rateBallots } from "../ratings/index.js";

/** So many moments are looked at, from the first few ballots to the last. */
const MOST_STEPS = 12;
const FIRST_STEP = 5;
/** An entrant is placed once its ranks are no more than these. */
const FEW_RANKS = 3;

/** All rated ballots, in the order in which they were cast, and who is to be placed. */
export interface NewcomerBallots {
  versionIds: readonly string[];
  /** The newcomer's number. */
  newcomer: number;
  ballots: BallotColumns;
}

/**
 * How surely a newcomer stood where after its first few ballots, after more, and after all, with the ballots among the others as they are now. Yields
 * before each fit.
 */
export function* placeNewcomer({ versionIds, newcomer, ballots }: NewcomerBallots): Generator<undefined, Placement> {
  const { left, right } = ballots;
  const places = Array.from({ length: ballots.outcome.length }, (_, place) => place);
  const isOwn = (place: number) => left[place] === newcomer || right[place] === newcomer;
  const [own, others] = [places.filter(isOwn), places.filter((place) => !isOwn(place))];
  const steps: Placement["steps"] = [];
  for (const count of chooseSteps(own.length)) {
    yield;
    const { entrants } = rateBallots(versionIds.length, pick(ballots, [...others, ...own.slice(0, count)])).ratings;
    const { rankRange, rating, halfWidth } = entrants[newcomer]!;
    steps.push({ ballots: count, rankRange, rating, halfWidth });
  }
  const isPlaced = ({ rankRange }: Placement["steps"][number]) =>
    rankRange !== null && rankRange[1] - rankRange[0] < FEW_RANKS;
  return {
    versionId: versionIds[newcomer]!,
    of: new Set([newcomer, ...others.flatMap((place) => [left[place], right[place]])]).size,
    steps,
    placedAfter: steps[steps.findLastIndex((step) => !isPlaced(step)) + 1]?.ballots ?? null,
  };
}

/** From few ballots to all, each step longer than the one before by the same factor. */
function chooseSteps(all: number): number[] {
  if (all === 0) return [];
  const first = Math.min(FIRST_STEP, all);
  const factor = (all / first) ** (1 / (MOST_STEPS - 1));
  return [...new Set(Array.from({ length: MOST_STEPS }, (_, step) => Math.round(first * factor ** step)))];
}

const pick = (ballots: BallotColumns, places: readonly number[]): BallotColumns => ({
  voter: places.map((place) => ballots.voter[place]!),
  prompt: places.map((place) => ballots.prompt[place]!),
  left: places.map((place) => ballots.left[place]!),
  right: places.map((place) => ballots.right[place]!),
  outcome: places.map((place) => ballots.outcome[place]!),
});
