import type { Standings } from "../contract/index.js";
import { count, formatUsd, joinNames } from "../format.js";
import { isOnFrontier, priceEntrants } from "./by-price.js";
import { nameOfCompetitor } from "./competitor-words.js";

/** Of more than this, the first three are named and the others counted. */
const MOST_NAMED = 4;

const nameAll = (names: readonly string[]): string =>
  joinNames(
    names.length > MOST_NAMED ? [...names.slice(0, MOST_NAMED - 1), `${names.length - MOST_NAMED + 1} more`] : names,
  );

/** What the standings come to, in three sentences for somebody who reads nothing else: who leads, what that costs, and how sure it is. */
export function answerInSentences(
  standings: Pick<Standings, "rows" | "brackets" | "ballots" | "voters" | "prompts">,
): string[] {
  const { rows, ballots, voters, prompts } = standings;
  const rated = rows.filter(({ rating }) => rating !== null);
  if (rated.length < 2) return ["Too few entrants have ballots for an answer."];
  const couldBeFirst = rated.filter(({ rankRange }) => rankRange?.[0] === 1);
  const [first] = rated;
  const lead =
    couldBeFirst.length === 1
      ? `Of ${count(rated.length, "entrant")}, ${nameOfCompetitor(first)} builds the pages that people prefer.`
      : `Of ${count(rated.length, "entrant")}, ${couldBeFirst.length === rated.length ? "any" : nameAll(couldBeFirst.map(nameOfCompetitor))} could be the best: ${nameOfCompetitor(first)} is rated highest, but the ballots do not tell ${couldBeFirst.length === 2 ? "the two" : "them"} apart.`;
  return [
    lead,
    ...sayPrice(standings, couldBeFirst),
    `This rests on ${count(ballots, "blind ballot")} by ${count(voters, "person", "people")} on ${count(prompts, "prompt")}, and allows for other people and other prompts of this sort.`,
  ];
}

/** What the best cost, and who costs less and is hardly worse. */
function sayPrice(standings: Pick<Standings, "rows" | "brackets">, best: Standings["rows"]): string[] {
  const priced = priceEntrants(standings, "cost");
  const own = priced.filter(({ row }) => best.includes(row));
  const [cheapest] = own;
  if (cheapest === undefined || priced.length < 2) return [];
  const dearest = own.at(-1)!;
  if (own.length > 1)
    return [
      `The cheapest of these, ${nameOfCompetitor(cheapest.row)}, costs ${formatUsd(cheapest.price)} a page${dearest.price > cheapest.price ? `; ${nameOfCompetitor(dearest.row)} costs ${formatUsd(dearest.price)}` : ""}.`,
    ];
  const next = priced.findLast((one) => isOnFrontier(one) && one.price < cheapest.price);
  return [
    `It costs ${formatUsd(cheapest.price)} a page${next === undefined ? ", and nobody costs less" : `; the best that costs less is ${nameOfCompetitor(next.row)}, at ${formatUsd(next.price)}`}.`,
  ];
}
