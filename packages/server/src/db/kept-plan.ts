import { createHash } from "node:crypto";

const MARK = "/* kept plan */ ";

/**
 * A statement whose plan PostgreSQL keeps: each connection plans it five times for what is bound, and from then on goes by one plan for whatever is bound, if that promises to cost no
 * more. To plan a voter's turn takes a third of what PostgreSQL spends on it. Only for what is asked all the time, since each connection holds its plans in memory; and only where one
 * plan suits all that is bound, not for a condition that holds by itself where a parameter is null.
 */
export const keepPlan = (sql: string): string => MARK + sql.trim();

export const isPlanKept = (sql: string): boolean => sql.startsWith(MARK);

/** A connection of the driver, as far as statements are sent by it. */
export interface Connection {
  query: (statement: unknown, ...rest: unknown[]) => unknown;
}

/** A statement that the driver has prepared once on each connection. Names are told apart by their first 63 bytes. */
const nameStatement = (text: string) => ({ name: createHash("sha256").update(text).digest("hex").slice(0, 32), text });
/** By text: few, since `keepPlan` is for constants. */
const named = new Map<string, ReturnType<typeof nameStatement>>();

/** From now on the connection has prepared what `keepPlan` made: Sequelize itself sends each statement without a name. */
export function nameKeptPlans(connection: Connection): void {
  const send = connection.query.bind(connection);
  connection.query = (statement, ...rest) => {
    if (typeof statement !== "string" || !isPlanKept(statement)) return send(statement, ...rest);
    const prepared = named.get(statement) ?? nameStatement(statement);
    named.set(statement, prepared);
    return send(prepared, ...rest);
  };
}
