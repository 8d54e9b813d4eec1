import { join } from "node:path";
import * as z from "zod";
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
import { type ChangedVoter, ChangedVoters } from "./changed-voters.js";
import { type BallotFiles, type Filed, numbers, VoterFile } from "./voter-file.js";

/** How many editions' ballots are held at most. */
const MOST_HELD = 2;

/** What the ballots of each voter are understood by: their places are those in these lists. */
const Head = z.object({ wordingIds: z.array(z.string()), entries: z.array(BallotEntry) });
type Head = z.infer<typeof Head>;
/** Null for a voter without ballots. `ids` is empty: a process that writes a file reads none. */
const Part: z.ZodType<VoterBallots | null> = z
  .object({
    prompt: numbers,
    left: numbers,
    right: numbers,
    at: z.instanceof(Int32Array),
    dwellMs: z.instanceof(Int32Array),
    signs: z.instanceof(Uint16Array),
    reasons: z.instanceof(Uint16Array),
    ms: z.instanceof(Uint16Array),
    ids: z.array(z.string()),
  })
  .nullable();
type Part = VoterBallots | null;

/**
 * The ballots of an edition, as reports look at them. A process that makes reports holds them, and reads those of the voters that have changed; for whoever does not, they are read
 * each time.
 */
export class HeldBallots {
  private files: BallotFiles | null = null;
  private readonly held = new Map<string, EditionBallots>();

  constructor(private readonly db: Database) {}

  /** From now on holds what it has read. */
  hold(files: BallotFiles): void {
    this.files = files;
  }

  /** As they are now. An edition that is not there has none. */
  read(editionId: string): Promise<BallotTable> {
    return this.find(editionId).read();
  }

  private find(editionId: string): EditionBallots {
    if (this.files === null) return new EditionBallots(this.db, editionId);
    const found = this.held.get(editionId) ?? new EditionBallots(this.db, editionId, { files: this.files });
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
  /** Marks of the voters whose ballots are all held; a voter without ballots has one, too. */
  private readonly marks = new Map<string, string>();
  private readonly file: VoterFile<Head, Part> | null;
  private isOpen = false;
  private readBallots = 0;
  /** Whoever asks meanwhile is answered after it. */
  private reading: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: Database,
    private readonly editionId: string,
    { withIds = false, files = null }: { withIds?: boolean; files?: BallotFiles | null } = {},
  ) {
    this.changed = new ChangedVoters(db, editionId);
    this.withIds = withIds;
    const own = { statement: BALLOTS, schemas: { head: Head, part: Part } };
    this.file = files && new VoterFile(db, { ...files, ...own, path: join(files.dir, `${editionId}.ballots`) });
  }

  read(): Promise<BallotTable> {
    const reading = this.reading.then(() => this.refresh());
    // What it came to is not held: it is a table of all ballots.
    const over = () => undefined;
    this.reading = reading.then(over, over);
    return reading;
  }

  private async refresh(): Promise<BallotTable> {
    await this.changed.read((changed) => this.readVoters(changed));
    if (this.sorted.entries.length < this.entries.length) this.sorted = sortEntries(this.entries);
    const table = tabulate(this.ballotsOf, this.wordingIds, this.sorted);
    void this.file?.keep(this.readBallots, table.columns.at.length, () => this.listFiled());
    this.readBallots = 0;
    return table;
  }

  private async readVoters(changed: readonly ChangedVoter[]): Promise<void> {
    if (!this.isOpen) await this.open(changed);
    const unread = changed.filter(({ id, mark }) => mark === null || this.marks.get(id) !== mark);
    if (unread.length === 0) return;
    const voterIds = unread.map(({ id }) => id);
    // Whoever has none any more is not among those that are sent.
    for (const id of voterIds) {
      this.ballotsOf.delete(id);
      this.marks.delete(id);
    }
    const query = { row: SentBallots, sql: BALLOTS, bind: [voterIds, this.wordingIds, this.withIds] };
    await readByVoter(this.db, query, voterIds, (sent, transaction) => this.take(sent, transaction));
    for (const { id, mark } of unread) if (mark !== null) this.marks.set(id, mark);
  }

  /** What the last process held, of the voters whose ballots are still the same. */
  private async open(changed: readonly ChangedVoter[]): Promise<void> {
    await this.readWordings();
    // What is no edition, or has no prompt, may have some later.
    if (this.wordingIds.length === 0) return;
    const filed = (await this.file?.read()) ?? null;
    this.isOpen = true;
    if (filed === null || filed.head.wordingIds.join() !== this.wordingIds.join()) return;
    this.addEntries(filed.head.entries);
    const marks = new Map(changed.map(({ id, mark }) => [id, mark]));
    for (const { id, mark, part } of filed.voters) {
      if (marks.get(id) !== mark) continue;
      this.marks.set(id, mark);
      if (part !== null) this.ballotsOf.set(id, part);
    }
  }

  private listFiled(): Filed<Head, Part> {
    const voters = [...this.marks].map(([id, mark]) => ({ id, mark, part: this.ballotsOf.get(id) ?? null }));
    return { head: { wordingIds: [...this.wordingIds], entries: [...this.entries] }, voters };
  }

  private async take(sent: readonly SentBallots[], transaction?: Transaction): Promise<void> {
    const unknown = sent.flatMap(({ bytes }) => findUnknown(bytes, this.placeOf));
    await this.readEntries(unknown, transaction);
    for (const { voterId, ...ballots } of sent) {
      const own = readVoterBallots(ballots, this.placeOf, this.wordingIds.length);
      this.readBallots += own.at.length;
      this.ballotsOf.set(voterId, own);
    }
  }

  /** Who made an entry never changes: each is read once, when a ballot names it for the first time. */
  private async readEntries(ids: readonly string[], transaction?: Transaction): Promise<void> {
    if (ids.length === 0) return;
    this.addEntries(await this.db.select(BallotEntry, ENTRIES, [[...new Set(ids)]], transaction));
  }

  private addEntries(entries: readonly BallotEntry[]): void {
    for (const entry of entries) {
      this.placeOf.set(keyOf(entry.id), this.entries.length);
      this.entries.push(entry);
    }
  }

  /** Those of a frozen edition: they never change. */
  private async readWordings(): Promise<void> {
    this.wordingIds = (await this.db.select(Wording, WORDINGS, [this.editionId])).map(({ id }) => id);
  }
}
