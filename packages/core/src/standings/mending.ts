import { groupBy } from "../group-by.js";

/** One round of a place: a prompt, a version, a take. */
export interface RoundFacts {
  promptId: string;
  versionId: string;
  take: number;
  /** How often its own errors were fed back until then, and how often the lead corrected it. */
  mends: number;
  corrections: number;
  /** Whether it can be told clean or not, and whether it is. */
  isTried: boolean;
  isClean: boolean;
}

/** The first mends are told apart; later ones are counted together. */
export const MENDS_TOLD_APART = 2;

/** How many places came to a clean page, and by what. */
export interface MendingTally {
  /** Places whose first shot can be told clean or not. */
  places: number;
  /** Of them, those whose first clean page came after none, one, two, or more mends, without a correction before. */
  firstClean: [none: number, one: number, two: number, more: number];
  /** Places that were not clean at first and had a mend asked. */
  mended: number;
  /** Of them, those that had another. */
  mendedAgain: number;
  /** Places that had a correction, and how many of them were clean before it and after the last. */
  corrected: number;
  cleanBefore: number;
  cleanAfter: number;
}

const NOTHING: MendingTally = {
  ...{ places: 0, firstClean: [0, 0, 0, 0], mended: 0, mendedAgain: 0, corrected: 0, cleanBefore: 0, cleanAfter: 0 },
};

/** Adds tallies up. */
export const sumMending = (tallies: readonly MendingTally[]): MendingTally =>
  tallies.reduce(
    (sum, tally) => ({
      places: sum.places + tally.places,
      firstClean: sum.firstClean.map((n, at) => n + tally.firstClean[at]!) as MendingTally["firstClean"],
      mended: sum.mended + tally.mended,
      mendedAgain: sum.mendedAgain + tally.mendedAgain,
      corrected: sum.corrected + tally.corrected,
      cleanBefore: sum.cleanBefore + tally.cleanBefore,
      cleanAfter: sum.cleanAfter + tally.cleanAfter,
    }),
    NOTHING,
  );

/** What mends and corrections came to, by prompt and version. */
export function tallyMending(
  rounds: readonly RoundFacts[],
): (MendingTally & Pick<RoundFacts, "promptId" | "versionId">)[] {
  const places = [...groupBy(rounds, ({ promptId, versionId, take }) => `${promptId} ${versionId} ${take}`).values()];
  const tallied = places.map((own) => ({ ...own[0]!, tally: tallyPlace(own) }));
  return [...groupBy(tallied, ({ promptId, versionId }) => `${promptId} ${versionId}`).values()].map((own) => ({
    promptId: own[0]!.promptId,
    versionId: own[0]!.versionId,
    ...sumMending(own.map(({ tally }) => tally)),
  }));
}

function tallyPlace(rounds: readonly RoundFacts[]): MendingTally {
  const inOrder = rounds.toSorted((a, b) => a.mends + a.corrections - (b.mends + b.corrections));
  const byItself = inOrder.filter(({ corrections }) => corrections === 0);
  const first = byItself.find(({ mends }) => mends === 0);
  if (first === undefined || !first.isTried) return NOTHING;
  const clean = byItself.find(({ isClean }) => isClean);
  const firstClean: [number, number, number, number] = [0, 0, 0, 0];
  if (clean !== undefined) firstClean[Math.min(clean.mends, MENDS_TOLD_APART + 1)]!++;
  const corrected = inOrder.filter(({ corrections, isTried }) => corrections > 0 && isTried);
  const before = byItself.findLast(({ isTried }) => isTried);
  return {
    places: 1,
    firstClean,
    mended: Number(!first.isClean && byItself.some(({ mends }) => mends > 0)),
    mendedAgain: Number(!first.isClean && byItself.some(({ mends }) => mends > 1)),
    corrected: Number(corrected.length > 0),
    cleanBefore: Number(corrected.length > 0 && before?.isClean === true),
    cleanAfter: Number(corrected.at(-1)?.isClean === true),
  };
}
