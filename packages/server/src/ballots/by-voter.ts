import type { Database, RowQuery } from "../db/connection.js";

/** Of voters who have changed there are rarely more. */
const FEW = 25;
/** The rows of so many voters are on their way at a time: a voter of a year may have cast ten thousand ballots. */
const AT_ONCE = 8;

/**
 * Reads the ballots of voters, a row each, and hands them over, of many voters some at a time. To ask for some voters at a time would have the database go through all ballots each
 * time.
 *
 * @param voterIds as many as the query is bound to
 * @param few of so many voters all ballots come at once
 */
export async function readByVoter<T>(
  db: Database,
  query: RowQuery<T>,
  { voterIds, few = FEW }: { voterIds: readonly string[]; few?: number },
  take: (rows: readonly T[]) => Promise<void> | void,
): Promise<void> {
  if (voterIds.length > few) await db.selectInPieces(query, AT_ONCE, take);
  else await take(await db.select(query.row, query.sql, query.bind));
}
