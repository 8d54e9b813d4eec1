import type { SeenBallots } from "@tourney/core/standings";
import { readLean, SEEN_GROUPS, signReader } from "../ballots/ballot-queries.sql.js";
import type { BallotTable } from "../ballots/ballot-table.js";

const LEANS = 5;
const readIsRated = signReader("isRated");

/** Counts ballots between entrants by what their voters saw with, pair and lean. Ballots of voters who are left out, and those on other versions, are not among them. */
export function countSeen(
  { voterIds, entries, columns }: Pick<BallotTable, "voterIds" | "entries" | "columns">,
  { versionIds, leftOut }: { versionIds: readonly string[]; leftOut: ReadonlySet<string> },
): SeenBallots[] {
  const versions = versionIds.length;
  const numberOf = new Map(versionIds.map((id, number) => [id, number]));
  const versionOf = Int32Array.from(entries, ({ versionId }) => numberOf.get(versionId) ?? -1);
  const isOut = Uint8Array.from(voterIds, (id) => Number(leftOut.has(id)));
  return Object.entries(SEEN_GROUPS).flatMap(([sort, groups]) => {
    const by = sort as SeenBallots["by"];
    // A ballot in one number: sorted, alike ones stand together, and in an order that does not hang on when they were cast.
    const readGroup = signReader(by);
    const keys = new Float64Array(columns.signs.length);
    let count = 0;
    for (let b = 0; b < keys.length; b++) {
      const signs = columns.signs[b]!;
      const group = readGroup(signs) - 1;
      if (group < 0 || readIsRated(signs) === 0 || isOut[columns.voter[b]!] === 1) continue;
      const [left, right] = [versionOf[columns.left[b]!]!, versionOf[columns.right[b]!]!];
      if (left < 0 || right < 0) continue;
      keys[count++] = ((group * versions + left) * versions + right) * LEANS + readLean(signs) + 2;
    }
    return listRuns(keys.subarray(0, count).sort()).map(([key, n]) => {
      const pair = Math.floor(key / LEANS);
      const lefts = Math.floor(pair / versions);
      return {
        ...{ by, name: groups[Math.floor(lefts / versions)]!, left: lefts % versions, right: pair % versions },
        ...{ lean: (key % LEANS) - 2, n },
      };
    });
  });
}

/** Each number of a sorted list once, with how often it stands there. */
function listRuns(sorted: Float64Array): [value: number, times: number][] {
  const runs: [number, number][] = [];
  for (let from = 0, to = 0; from < sorted.length; from = to) {
    while (to < sorted.length && sorted[to] === sorted[from]) to++;
    runs.push([sorted[from]!, to - from]);
  }
  return runs;
}
