import type { Kind, Reason, VoterReliability, VotingReport } from "@tourney/core/contract";
import {
  diagnoseInSteps,
  makeNumbers,
  numberAll,
  orderBy,
  pickNumbers,
  PRODUCT_OPTIONS,
  type VoterDiagnostics,
  wilsonInterval,
} from "@tourney/core/ratings";
import { median } from "@tourney/core/stats";
import { inPieces } from "../in-pieces.js";
import { cached } from "../cached.js";
import type { SuiteService } from "../suites/service.js";
import { findDisputes } from "./find-disputes.js";
import { flagVoter } from "./flag-voter.js";
import { REASONS, type ReportBallots } from "./report-ballots.js";
import type { ReportVoter } from "./report-queries.sql.js";
import type { ReportRepository } from "./report-repository.js";

const MOST_THIN_PAIRS = 8;

/** What a voter's ballots say of the voter. It does not hang on whether they count. */
interface Diagnosis {
  found: VoterDiagnostics;
  medianDwellMs: number | null;
}

/** Each voter is held against ratings without this voter: with many voters that takes its time, and is done for this part of it at most. */
const SPARING = 10;

/** How the voting of an edition goes, and how far its voters can be relied on. */
export function createReportService({ reports, suites }: { reports: ReportRepository; suites: SuiteService }) {
  const getDiagnoses = cached(({ all }: { editionId: string; all: ReportBallots }) => diagnose(all), {
    keyOf: ({ editionId }) => editionId,
    keptMs: 0,
    sparing: SPARING,
  });
  return {
    async getReport(editionId: string): Promise<VotingReport> {
      const [edition, { all, hours, ballotsLastHour }, voters, skips, entrants] = await Promise.all([
        suites.getEdition(editionId),
        reports.readBallots(editionId),
        reports.listVoters(editionId),
        reports.listSkips(editionId),
        reports.listEntrants(editionId),
      ]);
      const leftOut = new Set(voters.flatMap(({ voterId, leftOut: why }) => (why === null ? [] : [voterId])));
      const counting = findCounting(all, leftOut);
      const diagnoses = await getDiagnoses({ editionId, all });
      const onPrompts = new Set<string>();
      for (const ballot of counting) onPrompts.add(all.prompts[all.prompt[ballot]!]!.id);
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
          all,
          counting,
        ),
        promptsWithout: edition.prompts.filter(({ id }) => !onPrompts.has(id)).map(({ id, title }) => ({ id, title })),
        disputes: findDisputes(all, counting).map(({ promptId, ...dispute }) => ({
          promptId,
          promptTitle: edition.prompts.find(({ id }) => id === promptId)?.title ?? "",
          ...dispute,
        })),
        reasons: countReasons(all, counting),
        skips,
        entrants,
      };
    },
  };
}

/** The places of the ballots that count: of voters who are not left out, on entrants who are set up now as they were then. */
function findCounting(
  { voterIds, sides, voter, left, right }: ReportBallots,
  leftOut: ReadonlySet<string>,
): Int32Array {
  const counts = Uint8Array.from(voterIds, (id) => Number(!leftOut.has(id)));
  const isPresent = Uint8Array.from(sides, (side) => Number(side.isPresent));
  const found = new Int32Array(voter.length);
  let n = 0;
  for (let b = 0; b < voter.length; b++)
    if (counts[voter[b]!] === 1 && isPresent[left[b]!] === 1 && isPresent[right[b]!] === 1) found[n++] = b;
  return found.subarray(0, n);
}

/** Every voter with ballots, also one who is left out: whether to take one in again is judged by the same figures. */
async function diagnose(all: ReportBallots): Promise<Map<string, Diagnosis>> {
  const { voterIds, sides } = all;
  const { columns: version, numberOf } = numberAll(sides.map(({ versionId }) => versionId));
  const own = listPeoples(all);
  const toColumn = (most: number, of: (ballot: number) => number) => {
    const column = makeNumbers(own.length, most);
    for (let place = 0; place < own.length; place++) column[place] = of(own[place]!);
    return column;
  };
  const steps = diagnoseInSteps(
    numberOf.size,
    {
      voter: toColumn(voterIds.length, (ballot) => all.voter[ballot]!),
      prompt: toColumn(all.prompts.length, (ballot) => all.prompt[ballot]!),
      left: toColumn(numberOf.size, (ballot) => version[all.left[ballot]!]!),
      right: toColumn(numberOf.size, (ballot) => version[all.right[ballot]!]!),
      outcome: toColumn(PRODUCT_OPTIONS.K + 1, (ballot) => all.lean[ballot]! + 3),
    },
    PRODUCT_OPTIONS,
  );
  const diagnosed = await inPieces(steps);
  // One voter's after another's: together they would be a list of all.
  const byVoter = orderBy([pickNumbers(all.voter, own)]);
  const medianOf = new Map<number, number | null>();
  for (let from = 0, to = 0; from < byVoter.length; from = to) {
    const voter = all.voter[own[byVoter[from]!]!]!;
    while (to < byVoter.length && all.voter[own[byVoter[to]!]!] === voter) to++;
    medianOf.set(voter, median(Array.from(byVoter.subarray(from, to), (place) => all.dwellMs[own[place]!]!)));
  }
  return new Map(
    diagnosed.map((found) => [voterIds[found.voter]!, { found, medianDwellMs: medianOf.get(found.voter)! }]),
  );
}

/** The places of the ballots that people cast. */
function listPeoples({ isAutomatic }: ReportBallots): Int32Array {
  const found = new Int32Array(isAutomatic.length);
  let n = 0;
  for (let b = 0; b < found.length; b++) if (isAutomatic[b] === 0) found[n++] = b;
  return found.subarray(0, n);
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

function findThinPairs(entrants: readonly string[], { sides, left, right }: ReportBallots, counting: Int32Array) {
  const placeOf = new Map(entrants.map((id, place) => [id, place]));
  const entrantOf = Int32Array.from(sides, ({ entrantId }) => placeOf.get(entrantId) ?? entrants.length);
  const size = entrants.length + 1;
  const counts = new Int32Array(size * size);
  for (const ballot of counting) {
    const [a, b] = [entrantOf[left[ballot]!]!, entrantOf[right[ballot]!]!];
    counts[Math.min(a, b) * size + Math.max(a, b)]!++;
  }
  const pairs = entrants.flatMap((firstId, i) =>
    entrants.slice(i + 1).map((secondId, after) => ({ firstId, secondId, ballots: counts[i * size + i + 1 + after]! })),
  );
  return pairs.toSorted((a, b) => a.ballots - b.ballots).slice(0, MOST_THIN_PAIRS);
}

/** How often each reason was given where an entrant was preferred, and where the other was. Even ballots count for neither. */
function countReasons(
  { prompts, sides, prompt, left, right, lean, reasons }: ReportBallots,
  counting: Int32Array,
): VotingReport["reasons"] {
  const counts = new Map<string, VotingReport["reasons"][number]>();
  const count = (entrantId: string, kind: Kind, reason: Reason, isPreferred: boolean) => {
    const key = `${entrantId} ${kind} ${reason}`;
    const row = counts.get(key) ?? { entrantId, kind, reason, preferred: 0, other: 0 };
    if (isPreferred) row.preferred++;
    else row.other++;
    counts.set(key, row);
  };
  for (const ballot of counting) {
    if (lean[ballot] === 0) continue;
    const { kind } = prompts[prompt[ballot]!]!;
    for (const reason of REASONS[reasons[ballot]!]!) {
      count(sides[left[ballot]!]!.entrantId, kind, reason, lean[ballot]! < 0);
      count(sides[right[ballot]!]!.entrantId, kind, reason, lean[ballot]! > 0);
    }
  }
  return [...counts.values()];
}
