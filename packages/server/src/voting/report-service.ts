import type { Edition, Kind, Reason, VoterReliability, VotingReport } from "@tourney/core/contract";
import {
  diagnoseInSteps,
  numberAll,
  PRODUCT_OPTIONS,
  type VoterDiagnostics,
  wilsonInterval,
} from "@tourney/core/ratings";
import { median } from "@tourney/core/stats";
import { inPieces } from "../in-pieces.js";
import { cached } from "../cached.js";
import type { SuiteService } from "../suites/service.js";
import { flagVoter } from "./flag-voter.js";
import type { ReportBallot } from "./report-ballots.js";
import type { ReportVoter } from "./report-queries.sql.js";
import type { ReportRepository } from "./report-repository.js";

const MOST_THIN_PAIRS = 8;
const MOST_DISPUTES = 8;
/** Fewer ballots on two entries are no dispute yet. */
const LEAST_FOR_DISPUTE = 2;

/** What a voter's ballots say of the voter. It does not hang on whether they count. */
interface Diagnosis {
  found: VoterDiagnostics;
  medianDwellMs: number | null;
}

/** Each voter is held against ratings without this voter: with many voters that takes its time, and is done for this part of it at most. */
const SPARING = 10;

/** How the voting of an edition goes, and how far its voters can be relied on. */
export function createReportService({ reports, suites }: { reports: ReportRepository; suites: SuiteService }) {
  const getDiagnoses = cached(({ own }: { editionId: string; own: readonly ReportBallot[] }) => diagnose(own), {
    keyOf: ({ editionId }) => editionId,
    keptMs: 0,
    sparing: SPARING,
  });
  return {
    async getReport(editionId: string): Promise<VotingReport> {
      const [edition, all, voters, hours, ballotsLastHour, skips, entrants] = await Promise.all([
        suites.getEdition(editionId),
        reports.listBallots(editionId),
        reports.listVoters(editionId),
        reports.listHours(editionId),
        reports.countLastHour(editionId),
        reports.listSkips(editionId),
        reports.listEntrants(editionId),
      ]);
      const leftOut = new Set(voters.flatMap(({ voterId, leftOut: why }) => (why === null ? [] : [voterId])));
      const counting = all.filter(({ voterId, isPresent }) => isPresent && !leftOut.has(voterId));
      const own = all.filter(({ isAutomatic }) => !isAutomatic);
      const diagnoses = await getDiagnoses({ editionId, own });
      return {
        ballots: counting.length,
        ballotsLastHour,
        hours,
        voters: voters.flatMap((voter) => {
          const diagnosis = diagnoses.get(voter.voterId);
          return diagnosis ? [describeVoter(voter, diagnosis)] : [];
        }),
        thinPairs: findThinPairs(
          entrants.map(({ id }) => id),
          counting,
        ),
        promptsWithout: edition.prompts
          .filter(({ id }) => !counting.some(({ promptId }) => promptId === id))
          .map(({ id, title }) => ({ id, title })),
        disputes: findDisputes(edition, counting),
        reasons: countReasons(counting),
        skips,
        entrants,
      };
    },
  };
}

/** Every voter with ballots, also one who is left out: whether to take one in again is judged by the same figures. */
async function diagnose(ballots: readonly ReportBallot[]): Promise<Map<string, Diagnosis>> {
  const byVoter = numberAll(ballots.map(({ voterId }) => voterId));
  const sides = numberAll(ballots.flatMap(({ leftVersionId, rightVersionId }) => [leftVersionId, rightVersionId]));
  const steps = diagnoseInSteps(
    sides.numberOf.size,
    {
      voter: byVoter.columns,
      prompt: numberAll(ballots.map(({ promptId }) => promptId)).columns,
      left: ballots.map((_, b) => sides.columns[2 * b]!),
      right: ballots.map((_, b) => sides.columns[2 * b + 1]!),
      outcome: ballots.map(({ lean }) => lean + 3),
    },
    PRODUCT_OPTIONS,
  );
  const { voters: diagnosed } = await inPieces(steps);
  const voterIds = [...byVoter.numberOf.keys()];
  const dwells = new Map(voterIds.map((voterId) => [voterId, [] as number[]]));
  for (const { voterId, dwellMs } of ballots) dwells.get(voterId)!.push(dwellMs);
  return new Map(
    diagnosed.map((found) => {
      const voterId = voterIds[found.voter]!;
      return [voterId, { found, medianDwellMs: median(dwells.get(voterId)!) }];
    }),
  );
}

function describeVoter(voter: ReportVoter, { found, medianDwellMs }: Diagnosis): VoterReliability {
  const decisive = found.left + found.right;
  const { consensusAgreement, consensusDecisive } = found;
  const shareOf = (count: number, of: number) => {
    const [low, high] = wilsonInterval(count, of);
    return { share: count / of, low, high, of };
  };
  return {
    ...voter,
    ballots: found.ballots,
    leftShare: decisive === 0 ? null : shareOf(found.left, decisive),
    evenShare: found.ballots === 0 ? null : found.even / found.ballots,
    selfAgreement: found.selfAgreement === null ? null : { share: found.selfAgreement, of: found.repeats },
    agreement:
      consensusAgreement === null
        ? null
        : shareOf(Math.round(consensusAgreement * consensusDecisive), consensusDecisive),
    medianDwellMs,
    flags: flagVoter(found, medianDwellMs),
  };
}

const pairOf = (a: string, b: string): string => (a < b ? `${a} ${b}` : `${b} ${a}`);

function findThinPairs(entrants: readonly string[], ballots: readonly ReportBallot[]) {
  const counts = new Map<string, number>();
  for (const { leftEntrantId, rightEntrantId } of ballots) {
    const key = pairOf(leftEntrantId, rightEntrantId);
    counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  const pairs = entrants.flatMap((firstId, i) =>
    entrants
      .slice(i + 1)
      .map((secondId) => ({ firstId, secondId, ballots: counts.get(pairOf(firstId, secondId)) ?? 0 })),
  );
  return pairs.toSorted((a, b) => a.ballots - b.ballots).slice(0, MOST_THIN_PAIRS);
}

/** Bouts of two entries with leans to both sides, those with the widest spread first. */
function findDisputes({ prompts }: Edition, ballots: readonly ReportBallot[]): VotingReport["disputes"] {
  const bouts = new Map<string, VotingReport["disputes"][number]>();
  for (const { promptId, leftEntryId, rightEntryId, leftEntrantId, rightEntrantId, lean } of ballots) {
    const key = pairOf(leftEntryId, rightEntryId);
    const isTurned = leftEntryId > rightEntryId;
    const bout = bouts.get(key) ?? {
      promptId,
      promptTitle: prompts.find(({ id }) => id === promptId)?.title ?? "",
      firstEntryId: isTurned ? rightEntryId : leftEntryId,
      secondEntryId: isTurned ? leftEntryId : rightEntryId,
      firstEntrantId: isTurned ? rightEntrantId : leftEntrantId,
      secondEntrantId: isTurned ? leftEntrantId : rightEntrantId,
      leans: [],
    };
    bout.leans.push(isTurned ? -lean : lean);
    bouts.set(key, bout);
  }
  const spreadOf = ({ leans }: { leans: readonly number[] }) => {
    const mean = leans.reduce((sum, lean) => sum + lean, 0) / leans.length;
    return leans.reduce((sum, lean) => sum + (lean - mean) ** 2, 0) / leans.length;
  };
  return [...bouts.values()]
    .filter(
      ({ leans }) =>
        leans.length >= LEAST_FOR_DISPUTE && leans.some((lean) => lean < 0) && leans.some((lean) => lean > 0),
    )
    .toSorted((a, b) => spreadOf(b) - spreadOf(a) || b.leans.length - a.leans.length)
    .slice(0, MOST_DISPUTES);
}

/** How often each reason was given where an entrant was preferred, and where the other was. Even ballots count for neither. */
function countReasons(ballots: readonly ReportBallot[]): VotingReport["reasons"] {
  const counts = new Map<string, VotingReport["reasons"][number]>();
  const count = (entrantId: string, kind: Kind, reason: Reason, isPreferred: boolean) => {
    const key = `${entrantId} ${kind} ${reason}`;
    const row = counts.get(key) ?? { entrantId, kind, reason, preferred: 0, other: 0 };
    if (isPreferred) row.preferred++;
    else row.other++;
    counts.set(key, row);
  };
  for (const { kind, leftEntrantId, rightEntrantId, lean, reasons } of ballots) {
    if (lean === 0) continue;
    for (const reason of reasons) {
      count(leftEntrantId, kind, reason, lean < 0);
      count(rightEntrantId, kind, reason, lean > 0);
    }
  }
  return [...counts.values()];
}
