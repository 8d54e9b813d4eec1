import type { Database, RowQuery, TakeRows } from "../db/connection.js";

/** Up to this many voters are read in one piece. More have rarely changed. */
const FEW = 25;
/** The rows of so many voters are on their way at a time: a voter of a year may have cast ten thousand ballots. */
const AT_ONCE = 8;

/**
 * Reads a query that has one row for each voter, with that voter's ballots, and hands the rows over: those of many voters a few at a time. One query reads them all, since the
 * database would go through all ballots again for each group of voters.
 *
 * @param voterIds those that the query is about
 */
export async function readByVoter<T>(
  db: Database,
  query: RowQuery<T>,
  voterIds: readonly string[],
  take: TakeRows<T>,
): Promise<void> {
  if (voterIds.length > FEW) await db.selectInPieces(query, AT_ONCE, take);
  else await take(await db.select(query.row, query.sql, query.bind));
}
