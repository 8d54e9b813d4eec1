import {
  type BallotChange,
  type Standing,
  type StandingsChanges,
  type StandingsSnapshot,
  type StandingsViewInput,
} from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { compareCounted, compareRows, type CountedBallots } from "@tourney/core/standings";
import { writeCounts } from "@tourney/core/what-counts";
import { explainNotCounted } from "../exports/explain-not-counted.js";
import type { ExportRow } from "../exports/export-queries.sql.js";
import type { ExportRepository } from "../exports/repository.js";
import type { SuiteService } from "../suites/service.js";
import type { StandingsService } from "./service.js";
import type { SnapshotRepository } from "./snapshot-repository.js";

interface SnapshotDeps {
  snapshots: SnapshotRepository;
  standings: StandingsService;
  exports: ExportRepository;
  suites: SuiteService;
}

/** The most ballots that are listed one by one. */
const MOST_LISTED = 100;

/** One moment of standings: kept, or now. */
interface Moment {
  side: StandingsChanges["from"];
  rows: readonly Standing[];
  counted: CountedBallots;
}

/** Keeps standings as they are at a moment, and says what changed since. */
export function createSnapshotService({ snapshots, standings, exports, suites }: SnapshotDeps) {
  async function findMoment(id: string): Promise<Moment & { snapshot: StandingsSnapshot }> {
    const kept = await snapshots.find(id);
    if (kept !== null) return { ...kept, side: kept.snapshot };
    throw noSuchSnapshot();
  }

  /** The standings now, by what an earlier moment counted. */
  async function findNow({ editionId, counts }: StandingsSnapshot): Promise<Moment> {
    const { standings: now, counted, inputDigest } = await standings.countOneByOne(editionId, counts);
    const { methodVersion, ballots, countedAt: takenAt, rows } = now;
    return { rows, counted, side: { name: "now", counts, methodVersion, inputDigest, ballots, takenAt } };
  }

  async function describeChanges(editionId: string, from: Moment, to: Moment, isSameChoice: boolean) {
    const { added, removed, changed } = compareCounted(from.counted, to.counted);
    const kindOf = new Map<string, BallotChange["change"]>([
      ...added.map((id) => [id, "counts now"] as const),
      ...removed.map((id) => [id, "counts no more"] as const),
      ...changed.map((id) => [id, "counts otherwise"] as const),
    ]);
    const rows = await exports.listBallots(editionId, [...kindOf.keys()]);
    return rows.map((row): BallotChange => {
      const change = kindOf.get(row.id)!;
      return {
        ...{ ballotId: row.id, change, castAt: row.castAt, voterName: row.voterName, promptKey: row.promptKey },
        ...{ leftName: row.leftName, rightName: row.rightName },
        ...{ leftEntryId: row.leftEntryId, rightEntryId: row.rightEntryId },
        lean: (to.counted.get(row.id) ?? from.counted.get(row.id))!,
        why: explainChange(row, { change, since: from.side.takenAt, isSameChoice }),
      };
    });
  }

  return {
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    list: async (editionId: string): Promise<StandingsSnapshot[]> => {
      await suites.getEdition(editionId);
      return snapshots.list(editionId);
    },
    /** Keeps the standings as they are now. @throws TourneyError NOT_FOUND when the edition is not there. */
    async take(editionId: string, { name, counts }: StandingsViewInput): Promise<StandingsSnapshot> {
      const { standings: now, counted, inputDigest } = await standings.countOneByOne(editionId, counts);
      const { methodVersion, ballots, rows } = now;
      return snapshots.add({ editionId, name, counts, methodVersion, inputDigest, ballots, rows, counted });
    },
    /** @throws TourneyError NOT_FOUND */
    async setRemoved(id: string, isRemoved: boolean): Promise<StandingsSnapshot> {
      const snapshot = await snapshots.setRemoved(id, isRemoved);
      if (snapshot === null) throw noSuchSnapshot();
      return snapshot;
    },
    /**
     * What changed since a snapshot, until another or now. Kept figures stand as they were kept, whatever method there is by now.
     *
     * @throws TourneyError NOT_FOUND, CONFLICT for snapshots of two editions
     */
    async getChanges(id: string, untilId: string | undefined): Promise<StandingsChanges> {
      const from = await findMoment(id);
      const { editionId } = from.snapshot;
      const until = untilId === undefined ? null : await findMoment(untilId);
      if (until !== null && until.snapshot.editionId !== editionId) throw OTHER_EDITION();
      const to = until ?? (await findNow(from.snapshot));
      const keyOf = ({ side }: Moment) => JSON.stringify(writeCounts(side.counts));
      const isSameChoice = keyOf(from) === keyOf(to);
      const changes = await describeChanges(editionId, from, to, isSameChoice);
      return {
        ...{ from: from.side, to: to.side, isSameChoice },
        isSameMethod: from.side.methodVersion === to.side.methodVersion,
        rows: compareRows(from.rows, to.rows),
        reasons: countReasons(changes),
        ballots: changes.toSorted((a, b) => b.castAt.localeCompare(a.castAt)).slice(0, MOST_LISTED),
      };
    },
  };
}
export type SnapshotService = ReturnType<typeof createSnapshotService>;

function explainChange(
  row: ExportRow,
  { change, since, isSameChoice }: { change: BallotChange["change"]; since: string; isSameChoice: boolean },
): string {
  if (change === "counts otherwise") return "what shows nothing counts otherwise";
  if (change === "counts now" && row.castAt > since) return "cast since";
  const why = change === "counts no more" ? explainNotCounted(row) : "";
  if (why !== "") return why;
  if (!isSameChoice) return "something else is chosen to count";
  return change === "counts now" ? "counts again" : "left out by what is chosen to count";
}

function countReasons(changes: readonly BallotChange[]): StandingsChanges["reasons"] {
  const counted = new Map<string, StandingsChanges["reasons"][number]>();
  for (const { change, why } of changes) {
    const key = `${change} ${why}`;
    counted.set(key, { change, why, ballots: (counted.get(key)?.ballots ?? 0) + 1 });
  }
  return [...counted.values()].sort((a, b) => b.ballots - a.ballots);
}

const noSuchSnapshot = () =>
  new TourneyError("NOT_FOUND", {
    message: "There is no such snapshot.",
    reason: "It may belong to another Tourney.",
    remedy: "Open the standings and choose one from the list.",
  });

const OTHER_EDITION = () =>
  new TourneyError("CONFLICT", {
    message: "The two snapshots are of different editions.",
    reason: "Each edition has ballots and prompts of its own.",
    remedy: "Choose two of one edition.",
  });
