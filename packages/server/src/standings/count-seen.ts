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
    const readGroup = signReader(by);
    // By group and left side: how often each lean stands against each right side.
    const rows: (Uint32Array | undefined)[] = Array.from({ length: groups.length * versions });
    for (let b = 0; b < columns.signs.length; b++) {
      const signs = columns.signs[b]!;
      const group = readGroup(signs) - 1;
      if (group < 0 || readIsRated(signs) === 0 || isOut[columns.voter[b]!] === 1) continue;
      const [left, right] = [versionOf[columns.left[b]!]!, versionOf[columns.right[b]!]!];
      if (left < 0 || right < 0) continue;
      const row = (rows[group * versions + left] ??= new Uint32Array(versions * LEANS));
      row[right * LEANS + readLean(signs) + 2]!++;
    }
    return rows.flatMap((row, place) => {
      if (row === undefined) return [];
      const own = { by, name: groups[Math.floor(place / versions)]!, left: place % versions };
      return Array.from(row.keys())
        .filter((key) => row[key]! > 0)
        .map((key) => ({ ...own, right: Math.floor(key / LEANS), lean: (key % LEANS) - 2, n: row[key]! }));
    });
  });
}
