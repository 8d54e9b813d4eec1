import { restAfter } from "../at-pace.js";
import { ChangedVoters } from "../ballots/changed-voters.js";
import type { Database } from "../db/connection.js";
import type { VoterTotal } from "./ballot-list-queries.sql.js";

/** The server counts all ballots for at most a hundredth of the time, so the total may lack what others voted in the last 30 s. */
export const SPARING = 100;
/** A total that took less than this to count is counted again whenever ballots have changed. */
const QUICK_MS = 20;
/** So is one of fewer ballots than this: if that took long, the machine was busy. */
const FEW_BALLOTS = 10_000;
/** Milliseconds for which a total is given again though ballots have changed. */
export const restOfTotal = (tookMs: number, total: number): number =>
  restAfter(total < FEW_BALLOTS ? 0 : tookMs, { slowMs: QUICK_MS, times: SPARING });

/** How many ballots a list has, counted by voter: after a ballot, only those of its voter are counted again. */
export class BallotTotal {
  private readonly byVoter = new Map<string, number>();
  private readonly changed: ChangedVoters;
  /** Whoever asks meanwhile is answered after it. */
  private reading: Promise<unknown> = Promise.resolve();

  /**
   * @param editionId of the suite whose voters are meant
   * @param countByVoter counts those of some voters, or with null of all; voters without any may be left out
   */
  constructor(
    db: Database,
    editionId: string,
    private readonly countByVoter: (voterIds: readonly string[] | null) => Promise<VoterTotal[]>,
  ) {
    this.changed = new ChangedVoters(db, editionId);
  }

  /** As it is now. @throws Error when the database cannot be reached; the next call then counts all */
  read(): Promise<number> {
    const reading = this.reading.then(() => this.refresh());
    this.reading = reading.catch(() => undefined);
    return reading;
  }

  private async refresh(): Promise<number> {
    await this.changed.read((changed) => this.count(changed.map(({ id }) => id)));
    let total = 0;
    for (const ballots of this.byVoter.values()) total += ballots;
    return total;
  }

  private async count(voterIds: readonly string[]): Promise<void> {
    // All are counted sooner by reading all ballots once than voter by voter.
    const counted = await this.countByVoter(this.byVoter.size === 0 ? null : voterIds);
    for (const id of voterIds) this.byVoter.set(id, 0);
    for (const { voterId, ballots } of counted) this.byVoter.set(voterId, ballots);
  }
}
