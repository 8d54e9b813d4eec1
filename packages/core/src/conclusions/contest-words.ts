import type { Contest, FormTally, Placement } from "../contract/index.js";
import { count } from "../format.js";
import { formatRanks } from "./competitor-words.js";

/** What a panel puts against what, as in: a panel on takes of the same entrant. */
export const CONTEST_WORDS: Record<Contest, string> = {
  entrants: "entrants against each other",
  hints: "variants of a prompt against the prompt as it stands",
  takes: "takes of the same entrant",
  rounds: "mended pages against first shots",
  turns: "each turn against the one before",
  mended: "mended pages of all entrants",
  turn_pages: "pages of all entrants after an earlier turn",
};

/** How far a later form stands above the earlier one: on the prompts that are there, and what that says of others like them. */
export function describeForms({
  points,
  halfWidth,
  halfWidthHere,
}: Omit<FormTally, "ballots" | "better" | "even" | "worse">): string {
  if (points === null) return "nobody has voted on it";
  const by = count(Math.round(Math.abs(points)), "point");
  const direction = points < 0 ? "worse" : "better";
  if (halfWidthHere === null) return `${by} ${direction}, by one voter`;
  const isTold = Math.abs(points) > halfWidthHere;
  const here = `${isTold ? direction : "not told apart:"} ${isTold ? "by " : ""}${by}${isTold ? "" : ` ${direction}`} ± ${Math.round(halfWidthHere)}`;
  return halfWidth === null ? here : `${here}; for prompts like these ± ${Math.round(halfWidth)}`;
}

/** Where a newcomer stands and since when, in a sentence. */
export function describePlacement({ of, steps, placedAfter }: Placement): string {
  const last = steps.at(-1);
  if (last === undefined) return "No ballot has been cast on it yet.";
  const now = last.rankRange === null ? "no rank" : `rank ${formatRanks(last.rankRange)} of ${of}`;
  const after = `${now} after ${count(last.ballots, "ballot")}`;
  return placedAfter === null
    ? `Not placed yet: ${after}, and more than three ranks are possible.`
    : `Placed after ${count(placedAfter, "ballot")}, when three ranks or fewer were possible; now ${after}.`;
}
