import { groupBy } from "@tourney/core/group-by";
import type { Stamps } from "./changes.js";

interface Held<Row> {
  /** How far cells had moved at the least when they were read. */
  told: number;
  byWording: ReadonlyMap<string, readonly Row[]>;
}

/** Is given the wordings whose rows are wanted, or null for all of them. */
type ReadRows<Row> = (wordingIds: readonly string[] | null) => Promise<Row[]>;

/** Leads look at a few editions, each in a few ways. */
const MOST_HELD = 12;

/**
 * Rows of the cells of an edition, kept by the wordings that they are of: after a change only those of the wordings that the database names
 * are read again.
 */
export class RowsByWording<Row extends { wordingId: string }> {
  private readonly held = new Map<string, Held<Row>>();
  /** One at a time for each key: each builds on the one before. */
  private readonly reading = new Map<string, Promise<unknown>>();
  private changes: Stamps | null = null;

  /** From now on holds what does not change. Before, everything is read each time. */
  follow(changes: Stamps): void {
    this.changes = changes;
  }

  async list(key: string, read: ReadRows<Row>): Promise<Row[]> {
    return [...(await this.listGroups(key, read)).values()].flat();
  }

  /** By wording. The rows of a wording that has not changed are the same array as before. */
  listGroups(key: string, read: ReadRows<Row>): Promise<ReadonlyMap<string, readonly Row[]>> {
    const reading = (this.reading.get(key) ?? Promise.resolve())
      .catch(() => undefined)
      .then(() => this.readSince(this.held.get(key), read))
      .then((held) => {
        this.keep(key, held);
        return held.byWording;
      });
    this.reading.set(key, reading);
    return reading;
  }

  private async readSince(before: Held<Row> | undefined, read: ReadRows<Row>): Promise<Held<Row>> {
    // How far cells have moved is noted first: what changes while they are read is read again next time.
    const { told, wordingIds } = this.changes?.touchedSince?.(before?.told ?? null) ?? { told: 0, wordingIds: null };
    const rows = wordingIds?.length === 0 ? [] : await read(wordingIds);
    const fresh = groupBy(rows, ({ wordingId }) => wordingId);
    if (wordingIds === null) return { told, byWording: fresh };
    // Each in the place that it had.
    const byWording = new Map(before?.byWording);
    for (const id of wordingIds) {
      const group = fresh.get(id);
      if (group === undefined) byWording.delete(id);
      else byWording.set(id, group);
    }
    return { told, byWording };
  }

  private keep(key: string, held: Held<Row>): void {
    this.held.delete(key);
    this.held.set(key, held);
    for (const oldest of [...this.held.keys()].slice(0, -MOST_HELD)) {
      this.held.delete(oldest);
      this.reading.delete(oldest);
    }
  }
}
