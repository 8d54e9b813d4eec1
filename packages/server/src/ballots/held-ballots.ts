import type { Database, Transaction } from "../db/connection.js";
import { BallotEntry, BALLOTS, ENTRIES, SentBallots, Wording, WORDINGS } from "./ballot-queries.sql.js";
import {
  type BallotTable,
  findUnknown,
  keyOf,
  readVoterBallots,
  sortEntries,
  tabulate,
  type VoterBallots,
} from "./ballot-table.js";
import { readByVoter } from "./by-voter.js";
import { ChangedVoters } from "./changed-voters.js";

/** How many editions' ballots are held at most. */
const MOST_HELD = 2;

/**
 * The ballots of an edition, as reports look at them. A process that makes reports holds them, and reads those of the voters that have changed; for whoever does not, they are read
 * each time.
 */
export class HeldBallots {
  private isHolding = false;
  private readonly held = new Map<string, EditionBallots>();

  constructor(private readonly db: Database) {}

  /** From now on holds what it has read. */
  hold(): void {
    this.isHolding = true;
  }

  /** As they are now. An edition that is not there has none. */
  read(editionId: string): Promise<BallotTable> {
    return this.find(editionId).read();
  }

  private find(editionId: string): EditionBallots {
    if (!this.isHolding) return new EditionBallots(this.db, editionId);
    const found = this.held.get(editionId) ?? new EditionBallots(this.db, editionId);
    this.held.delete(editionId);
    this.held.set(editionId, found);
    for (const oldest of [...this.held.keys()].slice(0, -MOST_HELD)) this.held.delete(oldest);
    return found;
  }

  /** The same with the id of each, which are not held. */
  readWithIds = (editionId: string): Promise<BallotTable> =>
    new EditionBallots(this.db, editionId, { withIds: true }).read();
}

class EditionBallots {
  private readonly changed: ChangedVoters;
  private wordingIds: readonly string[] = [];
  private readonly withIds: boolean;
  private readonly entries: BallotEntry[] = [];
  private readonly placeOf = new Map<string, number>();
  private sorted = sortEntries([]);
  private readonly ballotsOf = new Map<string, VoterBallots>();
  /** Whoever asks meanwhile is answered after it. */
  private reading: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: Database,
    private readonly editionId: string,
    { withIds = false }: { withIds?: boolean } = {},
  ) {
    this.changed = new ChangedVoters(db, editionId);
    this.withIds = withIds;
  }

  read(): Promise<BallotTable> {
    const reading = this.reading.then(() => this.refresh());
    // What it came to is not held: it is a table of all ballots.
    const over = () => undefined;
    this.reading = reading.then(over, over);
    return reading;
  }

  private async refresh(): Promise<BallotTable> {
    await this.changed.read((changed) => this.readVoters(changed.map(({ id }) => id)));
    if (this.sorted.entries.length < this.entries.length) this.sorted = sortEntries(this.entries);
    return tabulate(this.ballotsOf, this.wordingIds, this.sorted);
  }

  private async readVoters(voterIds: readonly string[]): Promise<void> {
    if (this.wordingIds.length === 0) await this.readWordings();
    // Whoever has none any more is not among those that are sent.
    for (const id of voterIds) this.ballotsOf.delete(id);
    const query = { row: SentBallots, sql: BALLOTS, bind: [voterIds, this.wordingIds, this.withIds] };
    await readByVoter(this.db, query, voterIds, (sent, transaction) => this.take(sent, transaction));
  }

  private async take(sent: readonly SentBallots[], transaction?: Transaction): Promise<void> {
    const unknown = sent.flatMap(({ bytes }) => findUnknown(bytes, this.placeOf));
    await this.readEntries(unknown, transaction);
    for (const { voterId, ...ballots } of sent)
      this.ballotsOf.set(voterId, readVoterBallots(ballots, this.placeOf, this.wordingIds.length));
  }

  /** Who made an entry never changes: each is read once, when a ballot names it for the first time. */
  private async readEntries(ids: readonly string[], transaction?: Transaction): Promise<void> {
    if (ids.length === 0) return;
    for (const entry of await this.db.select(BallotEntry, ENTRIES, [[...new Set(ids)]], transaction)) {
      this.placeOf.set(keyOf(entry.id), this.entries.length);
      this.entries.push(entry);
    }
  }

  /** Those of a frozen edition: they never change. */
  private async readWordings(): Promise<void> {
    this.wordingIds = (await this.db.select(Wording, WORDINGS, [this.editionId])).map(({ id }) => id);
  }
}
