import type { Mending } from "../contract/index.js";

/** A competitor's mends and corrections as a row of a table has them. */
export interface MendingWords {
  /** How many places work by themselves, and after at most one and two mends. */
  works: [byItself: string, afterOne: string, afterTwo: string];
  /** What was asked of those that did not. */
  mended: string;
  /** In what round the first clean page came. */
  rounds: string;
  corrected: string;
}

/** Whether anything was fed back, or corrected: without it there is nothing to tell. */
export const hasMending = (mending: readonly Mending[]): boolean =>
  mending.some(({ mended, corrected }) => mended + corrected > 0);

export function describeMending(tally: Mending): MendingWords {
  const { places, firstClean, mended, corrected, cleanBefore, cleanAfter } = tally;
  const [atOnce, one, two, more] = firstClean;
  const of = (clean: number) => (places === 0 ? "—" : `${clean} of ${places}`);
  const never = places - atOnce - one - two - more;
  const parts = [
    [atOnce, "at once"],
    [one, "after 1"],
    [two, "after 2"],
    [more, "after more"],
    [never, "not yet"],
  ] as const;
  return {
    works: [of(atOnce), of(atOnce + one), of(atOnce + one + two)],
    mended: places === atOnce ? "—" : `${mended} of ${places - atOnce}`,
    rounds:
      parts
        .filter(([n]) => n > 0)
        .map(([n, words]) => `${n} ${words}`)
        .join(", ") || "—",
    corrected: corrected === 0 ? "—" : `${cleanBefore} → ${cleanAfter} of ${corrected}`,
  };
}
