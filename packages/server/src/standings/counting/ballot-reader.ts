import * as z from "zod";
import { readByVoter } from "../../ballots/by-voter.js";
import { type ChangedVoter, ChangedVoters } from "../../ballots/changed-voters.js";
import type { Database } from "../../db/connection.js";
import { BALLOTS_OF_VOTERS, NUMBERED_IDS } from "./counting-queries.sql.js";
import { areSame, type UnpackedBallots, unpackBallots } from "./unpacked-ballots.js";

const NumberedId = z.object({ id: z.uuid(), isWording: z.boolean() });
const Sent = z.object({ id: z.uuid(), bytes: z.instanceof(Buffer) });

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

  constructor(private readonly db: Database) {
    this.changed = new ChangedVoters(db);
  }

  /**
   * Reads the ballots of the voters that changed since the last call, or of all.
   *
   * @returns whether it read all
   * @throws Error when the database cannot be reached; the next call then reads all
   */
  refresh(): Promise<boolean> {
    return this.changed.read((changed) => this.readVoters(changed));
  }

  private async readVoters(changed: readonly ChangedVoter[]): Promise<void> {
    for (const { id, isWording } of await this.db.select(NumberedId, NUMBERED_IDS))
      (isWording ? this.wordings : this.versions).add(id);
    const state = this.state + 1;
    const changedById = new Map(changed.map((voter) => [voter.id, voter]));
    const voterIds = [...changedById.keys()];
    const bind = [voterIds, this.wordings.ids, this.versions.ids];
    await readByVoter(this.db, { row: Sent, sql: BALLOTS_OF_VOTERS, bind }, voterIds, (rows) => {
      for (const { id, bytes } of rows) {
        this.hold(changedById.get(id)!, bytes, state);
        changedById.delete(id);
      }
    });
    for (const voter of changedById.values()) this.hold(voter, NO_BALLOTS, state);
  }

  private hold(voter: ChangedVoter, bytes: Buffer, state: number): void {
    const number = this.voterNumbers.get(voter.id) ?? this.voters.length;
    const before = this.voters[number];
    const ballots = unpackBallots(bytes, { wordings: this.wordings.ids.length, versions: this.versions.ids.length });
    // While transactions are open, voters are read again with whom nothing has changed.
    if (before !== undefined && areSame(before.ballots, ballots)) return;
    this.voterNumbers.set(voter.id, number);
    this.voters[number] = { ...voter, ballots, changedIn: state };
    this.state = state;
  }
}
