import type { ComparableEntry } from "../contract/index.js";

/** Entries that it makes sense to see beside each other, and what is compared. */
export interface NaturalPair {
  key: "predecessor" | "takes" | "rounds" | "turns" | "variant" | "oldest" | "rated";
  label: string;
  entryIds: string[];
}

/** Most entries that stand under one clock. */
export const MOST_COMPARED = 6;
/** Ballots that an entry needs before it is called the best or the worst of its prompt. */
const LEAST_BALLOTS = 10;

/** Of a sequence of follow-ups the entry that holds: the last turn as it was answered first. */
const isFirstShot = ({ round, isByHand }: ComparableEntry) => round === 0 && !isByHand;
const lastTurn = (entries: readonly ComparableEntry[]): ComparableEntry | undefined =>
  entries.toSorted((a, b) => b.turn - a.turn)[0];
const byRound = (a: ComparableEntry, b: ComparableEntry) => a.turn - b.turn || a.round - b.round;

/** The first shot of a competitor for a take of a prompt: its last turn. */
function findFirstShot(
  entries: readonly ComparableEntry[],
  { promptId, entrantId, take }: { promptId: string; entrantId: string; take: number },
): ComparableEntry | undefined {
  return lastTurn(
    entries.filter(
      (entry) =>
        entry.promptId === promptId &&
        entry.entrant.id === entrantId &&
        entry.take === take &&
        entry.isPresent &&
        !entry.isSuperseded &&
        isFirstShot(entry),
    ),
  );
}

/** An entry's share of the ballots that decided, 0–1; null while there are too few. */
export function shareWon({ won, lost, even }: Pick<ComparableEntry, "won" | "lost" | "even">): number | null {
  const ballots = won + lost + even;
  return ballots < LEAST_BALLOTS ? null : (won + even / 2) / ballots;
}

function listRated(own: ComparableEntry, entries: readonly ComparableEntry[]): string[] {
  const rated = entries
    .filter((entry) => entry.promptId === own.promptId && entry.isPresent && !entry.isSuperseded)
    .flatMap((entry) => {
      const share = shareWon(entry);
      return share === null ? [] : [{ entryId: entry.entryId, share }];
    })
    .toSorted((a, b) => b.share - a.share);
  return rated.length < 2 ? [] : [rated[0]!.entryId, rated.at(-1)!.entryId];
}

/**
 * The comparisons that lie nearest to an entry: with its entrant's predecessor (or successor), its other takes, its mends, its turns, a
 * variant of the prompt, the oldest answer to the same wording, and the best against the worst by the ballots.
 *
 * @param entries all entries of the prompt and its variants, the own included.
 * @returns those that exist, each with two to six entries, the own first where it is among them.
 */
export function listNaturalPairs(own: ComparableEntry, entries: readonly ComparableEntry[]): NaturalPair[] {
  const ofOwn = entries.filter(({ promptId, entrant }) => promptId === own.promptId && entrant.id === own.entrant.id);
  const sameVersion = ofOwn.filter((entry) => entry.versionId === own.versionId && !entry.isSuperseded);
  const kin = entries.find(
    ({ entrant, predecessorId }) => entrant.id === own.predecessorId || predecessorId === own.entrant.id,
  );
  const ofKin = kin && findFirstShot(entries, { promptId: own.promptId, entrantId: kin.entrant.id, take: own.take });
  const takes = [...new Set(sameVersion.map(({ take }) => take))]
    .toSorted((a, b) => a - b)
    .flatMap((take) => lastTurn(sameVersion.filter((entry) => entry.take === take && isFirstShot(entry))) ?? []);
  const ofTake = sameVersion.filter(({ take }) => take === own.take).toSorted(byRound);
  const last = Math.max(...ofTake.map(({ turn }) => turn), 1);
  const variants = entries.filter(
    (entry) =>
      !entry.isSamePrompt && entry.entrant.id === own.entrant.id && entry.take === own.take && isFirstShot(entry),
  );
  const oldest = ofOwn
    .filter(({ answeredAt }) => answeredAt !== null)
    .toSorted((a, b) => (a.answeredAt! < b.answeredAt! ? -1 : 1))[0];
  const isOldestElse = oldest !== undefined && (oldest.versionId !== own.versionId || oldest.isSuperseded);

  const pair = (key: NaturalPair["key"], label: string, found: readonly (ComparableEntry | undefined)[]) => {
    const ids = found.flatMap((entry) => entry?.entryId ?? []);
    const ownFirst = ids.includes(own.entryId) ? [own.entryId, ...ids.filter((id) => id !== own.entryId)] : ids;
    return { key, label, entryIds: [...new Set(ownFirst)].slice(0, MOST_COMPARED) };
  };
  const isOlderKin = kin?.entrant.id === own.predecessorId;
  return [
    pair("predecessor", kin ? `${isOlderKin ? "Predecessor" : "Successor"}: ${kin.entrant.name}` : "", [own, ofKin]),
    pair("takes", "Takes of this cell", takes),
    pair(
      "rounds",
      "First shot and mends",
      ofTake.filter(({ turn }) => turn === last),
    ),
    pair("turns", "Turn by turn", ofTake.filter(isFirstShot)),
    pair("variant", `With its variant: ${variants[0]?.promptTitle ?? ""}`, [own, variants[0]]),
    pair("oldest", "The oldest answer to this wording", [own, isOldestElse ? oldest : undefined]),
    { key: "rated" as const, label: "Best and worst by the ballots", entryIds: listRated(own, entries) },
  ].filter(({ entryIds }) => entryIds.length >= 2);
}
