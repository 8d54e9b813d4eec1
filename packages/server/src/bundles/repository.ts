import { Transaction as SequelizeTransaction } from "sequelize";
import type { Database, Transaction } from "../db/connection.js";
import { toJson } from "../db/storable.js";
import { ANSWER, AnswerRow, BUNDLE_ENTRIES, BundleRow } from "./entry-queries.sql.js";
import { CountRow, insertLines, KeyRow, LineRow, lockTables, selectLines, UNDER_WAY } from "./record-queries.sql.js";
import { columnsOf } from "./record-schema.js";
import { BUNDLED_TABLES, type BundledTable } from "./tables.js";

/** Rows held in memory at a time: a single answer may have megabytes. */
const BATCH = 50;

/** Reads and writes what bundles are made of. */
export class BundleRepository {
  constructor(private readonly db: Database) {}

  /** The entries of an edition, without their answers. */
  listEntries(editionId: string): Promise<BundleRow[]> {
    return this.db.select(BundleRow, BUNDLE_ENTRIES, [editionId]);
  }

  async readAnswer(entryId: string): Promise<string> {
    const [row] = await this.db.select(AnswerRow, ANSWER, [entryId]);
    return row?.answer ?? "";
  }

  /**
   * Passes on every row of an edition as JSON, table by table, all as of one moment, so that each row that is referred to is there as well.
   *
   * @returns how many generations and recordings stay behind because they are under way
   */
  async readRecords(editionId: string, take: (table: BundledTable, lines: string[]) => Promise<void>): Promise<number> {
    const isolationLevel = SequelizeTransaction.ISOLATION_LEVELS.REPEATABLE_READ;
    return this.db.sequelize.transaction({ isolationLevel }, async (transaction) => {
      for (const table of BUNDLED_TABLES) {
        const keys = await this.db.select(KeyRow, table.scope, [editionId], transaction);
        for (let start = 0; start < keys.length; start += BATCH) {
          const some = keys.slice(start, start + BATCH).map(({ key }) => key);
          const bind = [some, ...(table.isOfEdition ? [editionId] : [])];
          const rows = await this.db.select(LineRow, selectLines(table, this.listColumns(table)), bind, transaction);
          await take(
            table,
            rows.map(({ line }) => line),
          );
        }
      }
      const [underWay] = await this.db.select(CountRow, UNDER_WAY, [editionId], transaction);
      return underWay!.n;
    });
  }

  /** Whether nothing has been set up here yet: no suite, no entrant, no endpoint. */
  async isEmpty(transaction?: Transaction): Promise<boolean> {
    const { Suite, Entrant, Endpoint } = this.db.models;
    const only = transaction ? { transaction } : {};
    return (await Suite.count(only)) + (await Entrant.count(only)) + (await Endpoint.count(only)) === 0;
  }

  /** Keeps everybody else from writing to the tables until the transaction ends. */
  async lock(transaction: Transaction): Promise<void> {
    await this.db.execute(lockTables(BUNDLED_TABLES.map(({ name }) => name)), [], transaction);
  }

  /**
   * Writes rows that have the same columns. They go from text to row within the database: what passes through a JavaScript date loses its
   * microseconds, by which entrants are in order.
   */
  async write(table: BundledTable, rows: readonly Record<string, unknown>[], transaction: Transaction): Promise<void> {
    const [first] = rows;
    if (first === undefined) return;
    await this.db.execute(insertLines(table.name, Object.keys(first)), [toJson(rows)], transaction);
  }

  private listColumns(table: BundledTable): string[] {
    return columnsOf(this.db.models, table);
  }
}
