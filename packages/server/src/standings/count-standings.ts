import type { Standing, Standings } from "@tourney/core/contract";
import { rateBallots } from "@tourney/core/ratings";
import type { BallotRow } from "./repository.js";

/** Numbers the distinct values in the order of their first appearance. */
function numberDistinct(values: readonly string[]): Int32Array {
  const numbers = new Map<string, number>();
  return Int32Array.from(values, (value) => {
    if (!numbers.has(value)) numbers.set(value, numbers.size);
    return numbers.get(value)!;
  });
}

/** What the standings say of an entrant apart from its rating. */
export type EntrantFigures = Pick<Standing, "entrant" | "cleanShare" | "costPerEntryUsd" | "medianTotalMs">;

export type Counted = Omit<Standings, "edition" | "kind" | "countedAt">;

/** The standings of some ballots: pure, so that one input always gives one result. */
export function countStandings(entrants: readonly EntrantFigures[], ballots: readonly BallotRow[]): Counted {
  const indexOf = new Map(entrants.map(({ entrant }, index) => [entrant.id, index]));
  const left = Int32Array.from(ballots, ({ leftEntrantId }) => indexOf.get(leftEntrantId)!);
  const right = Int32Array.from(ballots, ({ rightEntrantId }) => indexOf.get(rightEntrantId)!);
  const columns = {
    voter: numberDistinct(ballots.map(({ voterId }) => voterId)),
    prompt: numberDistinct(ballots.map(({ promptId }) => promptId)),
    left,
    right,
    // Lean −2 (left by far) … 2 (right by far) is outcome 1 … 5.
    outcome: Int32Array.from(ballots, ({ lean }) => lean + 3),
  };
  const ratings = rateBallots(entrants.length, columns);
  const works = worksShares(entrants.length, ballots, { left, right });
  return {
    methodVersion: ratings.methodVersion,
    ballots: ballots.length,
    sampleBallots: ballots.filter(({ sample }) => sample).length,
    voters: ratings.clusters.voters,
    prompts: ratings.clusters.prompts,
    components: new Set(ratings.entrants.map(({ component }) => component).filter((component) => component !== -1))
      .size,
    side: ratings.side,
    rows: ratings.order.map((index) => ({
      ...entrants[index]!,
      ...ratings.entrants[index]!,
      worksShare: works[index]!,
    })),
    brackets: ratings.brackets,
    headToHead: headToHead(ratings.order, ballots, { left, right }),
  };
}

interface Sides {
  left: ArrayLike<number>;
  right: ArrayLike<number>;
}

/** Per entrant the share of its ballots on which nobody marked it as not working. */
function worksShares(count: number, ballots: readonly BallotRow[], { left, right }: Sides): (number | null)[] {
  const shown = new Float64Array(count);
  const worked = new Float64Array(count);
  ballots.forEach(({ leftWorks, rightWorks }, b) => {
    shown[left[b]!]!++;
    shown[right[b]!]!++;
    worked[left[b]!]! += leftWorks ? 1 : 0;
    worked[right[b]!]! += rightWorks ? 1 : 0;
  });
  return Array.from(shown, (total, i) => (total === 0 ? null : worked[i]! / total));
}

function headToHead(
  order: readonly number[],
  ballots: readonly BallotRow[],
  { left, right }: Sides,
): Standings["headToHead"] {
  const position = new Map(order.map((entrant, row) => [entrant, row]));
  const cells = order.map(() => order.map(() => ({ ballots: 0, points: 0 })));
  ballots.forEach(({ lean }, b) => {
    const [l, r] = [position.get(left[b]!)!, position.get(right[b]!)!];
    const leftPoints = lean < 0 ? 1 : lean === 0 ? 0.5 : 0;
    for (const [row, column, points] of [
      [l, r, leftPoints],
      [r, l, 1 - leftPoints],
    ] as const) {
      cells[row]![column]!.ballots++;
      cells[row]![column]!.points += points;
    }
  });
  return cells.map((row) => row.map(({ ballots: n, points }) => ({ ballots: n, share: n === 0 ? null : points / n })));
}
