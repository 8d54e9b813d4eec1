import type { BallotFilter, BallotScope, BallotLine, BallotList } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { readCounts } from "@tourney/core/what-counts";
import type { Changes, Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import type { Database, Transaction } from "../db/connection.js";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import type { AuditRepository } from "./audit-repository.js";
import type { BallotListRepository, Wanted } from "./ballot-list-repository.js";
import type { TellOfBallots } from "./ballot-notice.js";
import { BallotTotal, restOfTotal, SPARING } from "./ballot-total.js";

/** Ballots of one answer. */
const PAGE = 50;
interface BallotListDeps {
  db: Database;
  ballots: BallotListRepository;
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
  suites: SuiteService;
  standings: StandingsService;
}

/** Ignores which requests this server made itself: the database tells of their changes too, and most requests of a lead change no entrant. */
const asTold = (changes: Stamps): Stamps => ({
  stamp: async () => {
    const stamp = await changes.stamp();
    return stamp && { ...stamp, own: 0 };
  },
});

/** The lead reads ballots one by one, and lets single ones count no more. Nothing is deleted. */
export function createBallotListService({ db, ballots, audit, tellOfBallots, suites, standings }: BallotListDeps) {
  const totals = new Kept<number>(null, { rests: SPARING });
  const counted = new Kept<BallotTotal>(null);

  async function count(key: string, editionId: string, wanted: Wanted): Promise<number> {
    // Which ids are chosen changes with each ballot.
    if (wanted.ids !== null) return ballots.countChosen(editionId, wanted);
    const countByVoter = (voterIds: readonly string[] | null) => ballots.countByVoter(editionId, wanted, voterIds);
    const total = await counted.get(key, () => Promise.resolve(new BallotTotal(db, editionId, countByVoter)));
    return total.read();
  }

  async function find(ballotId: string) {
    const ballot = await ballots.find(ballotId);
    if (ballot) return ballot;
    throw new TourneyError("NOT_FOUND", {
      message: "There is no such ballot.",
      reason: "Ballots are never deleted; the address is wrong.",
      remedy: "Reload Voting and choose it there.",
    });
  }

  async function change(
    ballotId: string,
    { action, detail }: { action: string; detail: Record<string, unknown> },
    work: (transaction: Transaction) => Promise<boolean>,
  ): Promise<BallotLine> {
    const { voterId, panelId, editionId } = await find(ballotId);
    await db.transact(async (transaction) => {
      if (!(await work(transaction))) {
        throw new TourneyError("CONFLICT", {
          message: "This ballot has changed meanwhile.",
          reason: "It is voided already, or it counts again, or its voter has taken it back.",
          remedy: "Reload Voting to see how it stands.",
        });
      }
      await audit.add({ actor: "lead", action, panelId, voterId, detail: { ballotId, ...detail } }, transaction);
    });
    tellOfBallots(editionId);
    return find(ballotId);
  }

  return {
    /** From now on how many there are is counted when ballots have changed, not each time. */
    follow(changes: Changes): void {
      totals.follow(changes);
      // Which versions entrants have says which ballots count.
      counted.follow(asTold(changes.of("setup")));
    },
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async list(
      editionId: string,
      { only, before, ...scope }: BallotScope & { only: BallotFilter; before?: string | undefined },
    ): Promise<BallotList> {
      await suites.getEdition(editionId);
      const { counting } = scope;
      const counts = counting === undefined ? null : readCounts(new URLSearchParams(counting));
      const ids = counts && [...(await standings.listCounted(editionId, counts)).keys()];
      // What is chosen says which count; the filter says it for where nothing is.
      const filter = ids !== null && only === "that count" ? "all" : only;
      const wanted = { scope, ids, only: filter, before: before ?? null, limit: PAGE + 1 };
      // However far the list is read, there are as many.
      const key = JSON.stringify([editionId, scope, only]);
      const [rows, total] = await Promise.all([
        ballots.list(editionId, wanted),
        totals.get(key, () => count(key, editionId, wanted), restOfTotal),
      ]);
      const shown = rows.slice(0, PAGE);
      return { ballots: shown, total, before: rows.length > PAGE ? shown.at(-1)!.place : null };
    },
    void: (ballotId: string, why: string) =>
      change(ballotId, { action: "voided a ballot", detail: { why } }, (transaction) =>
        ballots.void(ballotId, why, transaction),
      ),
    restore: (ballotId: string) =>
      change(ballotId, { action: "let a ballot count again", detail: {} }, (transaction) =>
        ballots.restore(ballotId, transaction),
      ),
  };
}
export type BallotListService = ReturnType<typeof createBallotListService>;
