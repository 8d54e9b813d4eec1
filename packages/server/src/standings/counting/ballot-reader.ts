import { join } from "node:path";
import * as z from "zod";
import { readByVoter } from "../../ballots/by-voter.js";
import { type ChangedVoter, ChangedVoters } from "../../ballots/changed-voters.js";
import { type BallotFiles, type Filed, numbers, VoterFile } from "../../ballots/voter-file.js";
import type { Database } from "../../db/connection.js";
import { BALLOTS_OF_VOTERS, NUMBERED_IDS } from "./counting-queries.sql.js";
import { areSame, type UnpackedBallots, unpackBallots } from "./unpacked-ballots.js";

const NumberedId = z.object({ id: z.uuid(), isWording: z.boolean() });
const Sent = z.object({ id: z.uuid(), bytes: z.instanceof(Buffer) });

/** What the ballots of each voter are understood by. */
const Head = z.object({ wordings: z.array(z.string()), versions: z.array(z.string()) });
type Head = z.infer<typeof Head>;
const Part = z.object({
  wording: numbers,
  left: numbers,
  right: numbers,
  verdict: z.instanceof(Uint8Array),
  at: z.instanceof(Uint32Array),
});

/** A voter with the ballots that are rated; `changedIn` is the state that they came with. */
export interface CountedVoter extends ChangedVoter {
  ballots: UnpackedBallots;
  changedIn: number;
}

const NO_BALLOTS = Buffer.alloc(0);

/** Numbers things by when they came. */
class Numbering {
  readonly ids: string[] = [];
  private readonly numbers = new Map<string, number>();

  add(id: string): void {
    if (this.numbers.has(id)) return;
    this.numbers.set(id, this.ids.length);
    this.ids.push(id);
  }
}

/** Reads the ballots that are rated once, and after that those of voters with whom something has changed. */
export class BallotReader {
  readonly voters: CountedVoter[] = [];
  readonly wordings = new Numbering();
  readonly versions = new Numbering();
  /** Moves on with each change. */
  state = 0;
  private readonly voterNumbers = new Map<string, number>();
  private readonly changed: ChangedVoters;
  private readonly file: VoterFile<Head, UnpackedBallots>;
  private isOpen = false;
  private readBallots = 0;

  constructor(
    private readonly db: Database,
    files: BallotFiles,
  ) {
    this.changed = new ChangedVoters(db);
    const own = { statement: BALLOTS_OF_VOTERS, schemas: { head: Head, part: Part } };
    this.file = new VoterFile(db, { ...files, ...own, path: join(files.dir, "rated.ballots") });
  }

  /**
   * Reads the ballots of the voters that changed since the last call, or of all.
   *
   * @returns whether it read all
   * @throws Error when the database cannot be reached; the next call then reads all
   */
  async refresh(): Promise<boolean> {
    const isFirst = await this.changed.read((changed) => this.readVoters(changed));
    const held = this.voters.reduce((sum, { ballots }) => sum + ballots.at.length, 0);
    void this.file.keep(this.readBallots, held, () => this.listFiled());
    this.readBallots = 0;
    return isFirst;
  }

  private async readVoters(changed: readonly ChangedVoter[]): Promise<void> {
    const state = this.state + 1;
    if (!this.isOpen) await this.open(changed, state);
    for (const { id, isWording } of await this.db.select(NumberedId, NUMBERED_IDS))
      (isWording ? this.wordings : this.versions).add(id);
    const unread = changed.filter(({ id, mark }) => mark === null || this.find(id)?.mark !== mark);
    if (unread.length === 0) return;
    const unreadById = new Map(unread.map((voter) => [voter.id, voter]));
    const voterIds = [...unreadById.keys()];
    const bind = [voterIds, this.wordings.ids, this.versions.ids];
    const counts = { wordings: this.wordings.ids.length, versions: this.versions.ids.length };
    await readByVoter(this.db, { row: Sent, sql: BALLOTS_OF_VOTERS, bind }, voterIds, (rows) => {
      for (const { id, bytes } of rows) {
        const ballots = unpackBallots(bytes, counts);
        this.readBallots += ballots.at.length;
        this.hold(unreadById.get(id)!, ballots, state);
        unreadById.delete(id);
      }
    });
    for (const voter of unreadById.values()) this.hold(voter, unpackBallots(NO_BALLOTS, counts), state);
  }

  /** Takes over what the last process held, of the voters whose ballots are still the same. */
  private async open(changed: readonly ChangedVoter[], state: number): Promise<void> {
    const filed = await this.file.read();
    this.isOpen = true;
    if (filed === null) return;
    for (const id of filed.head.wordings) this.wordings.add(id);
    for (const id of filed.head.versions) this.versions.add(id);
    const filedById = new Map(filed.voters.map((voter) => [voter.id, voter]));
    for (const voter of changed) {
      const found = filedById.get(voter.id);
      if (found?.mark === voter.mark) this.hold(voter, found.part, state);
    }
  }

  private listFiled(): Filed<Head, UnpackedBallots> {
    const voters = this.voters.flatMap(({ id, mark, ballots: part }) => (mark === null ? [] : [{ id, mark, part }]));
    return { head: { wordings: [...this.wordings.ids], versions: [...this.versions.ids] }, voters };
  }

  private find(id: string): CountedVoter | undefined {
    const number = this.voterNumbers.get(id);
    return number === undefined ? undefined : this.voters[number];
  }

  private hold(voter: ChangedVoter, ballots: UnpackedBallots, state: number): void {
    const number = this.voterNumbers.get(voter.id) ?? this.voters.length;
    const before = this.voters[number];
    // While transactions are open, voters are read again with whom nothing has changed.
    if (before !== undefined && areSame(before.ballots, ballots)) {
      before.mark = voter.mark;
      return;
    }
    this.voterNumbers.set(voter.id, number);
    this.voters[number] = { ...voter, ballots, changedIn: state };
    this.state = state;
  }
}
