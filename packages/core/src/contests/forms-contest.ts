import type { FormContest, FormTally } from "../contract/index.js";
import { AS_IT_STANDS } from "../pairing/index.js";
import { type BallotColumns, numberAll, rateBallots } from "../ratings/index.js";

/** A ballot of a contest beside the ratings. */
export interface ContestBallot {
  voterId: string;
  promptId: string;
  leftEntryId: string;
  rightEntryId: string;
  leftVersionId: string;
  rightVersionId: string;
  leftForm: string;
  rightForm: string;
  /** Whether its voter had seen the two before, with the sides exchanged. */
  isRepeat: boolean;
  /** When the pages were answered. */
  leftAt: string;
  rightAt: string;
  /** −2 (left by far) … 2 (right by far). */
  lean: number;
}

/** Forms of a page in the order in which they are held against each other; the rest of a name says which. */
const EARLIER = [AS_IT_STANDS, "first shot"];

/** A ballot with its forms in order, and its lean towards the later one. */
export interface Turned {
  ballot: ContestBallot;
  later: string;
  isLaterRight: boolean;
}

/**
 * What an entrant's ballots against itself say of the later form of its page, in all, by entrant, and by prompt. Points are of the product's own fit
 * with the two forms as its entrants, so they are on the scale of the ratings, and their intervals hold for the population of voters and prompts.
 */
export function describeForms(contest: FormContest["contest"], ballots: readonly ContestBallot[]): FormContest {
  const turned = ballots.map((ballot): Turned => {
    const isLaterRight = isEarlier(ballot.leftForm, ballot.rightForm);
    return { ballot, isLaterRight, later: isLaterRight ? ballot.rightForm : ballot.leftForm };
  });
  const versions = [...new Set(ballots.map(({ leftVersionId }) => leftVersionId))];
  const prompts = new Map(
    turned.map(({ ballot: { promptId }, later }) => [`${promptId} ${later}`, { promptId, form: later }]),
  );
  return {
    contest,
    all: tallyForms(turned),
    entrants: versions.map((versionId) => ({
      versionId,
      ...tallyForms(turned.filter(({ ballot }) => ballot.leftVersionId === versionId)),
    })),
    prompts: [...prompts.values()].map(({ promptId, form }) => ({
      ...{ promptId, form },
      ...tallyForms(turned.filter(({ ballot, later }) => ballot.promptId === promptId && later === form)),
    })),
  };
}

/** Turns are in the order of their numbers; in the other contests one form is the plain one. */
function isEarlier(form: string, other: string): boolean {
  const [a, b] = [form, other].map((name) =>
    name.startsWith("turn ") ? Number(name.slice(5)) : Number(!EARLIER.includes(name)),
  );
  return a! < b!;
}

export function tallyForms(turned: readonly Turned[]): FormTally {
  const towardsLater = turned.map(({ ballot, isLaterRight }) => Math.sign(isLaterRight ? ballot.lean : -ballot.lean));
  const count = (sign: number) => towardsLater.filter((lean) => lean === sign).length;
  const columns = toColumns(turned);
  const differenceBy = (ballots: BallotColumns) => rateBallots(2, ballots, { pairs: [[1, 0]] }).ratings.differences[0]!;
  const { points, halfWidth } = differenceBy(columns);
  return {
    ...{ ballots: turned.length, better: count(1), even: count(0), worse: count(-1) },
    ...{ points, halfWidth },
    // With each voter's ballots as the only ones that go together, nothing is said beyond the prompts that are there.
    halfWidthHere: differenceBy({ ...columns, prompt: columns.voter }).halfWidth,
  };
}

/** The forms as entrants: 0 is the earlier one, 1 the later one. */
function toColumns(turned: readonly Turned[]): BallotColumns {
  return {
    voter: numberAll(turned.map(({ ballot }) => ballot.voterId)).columns,
    prompt: numberAll(turned.map(({ ballot }) => ballot.promptId)).columns,
    left: turned.map(({ isLaterRight }) => Number(!isLaterRight)),
    right: turned.map(({ isLaterRight }) => Number(isLaterRight)),
    outcome: turned.map(({ ballot }) => ballot.lean + 3),
  };
}
