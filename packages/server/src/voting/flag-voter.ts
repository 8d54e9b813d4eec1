import { signTest, type VoterDiagnostics } from "@tourney/core/ratings";

/** A p below this is evidence; with some tens of voters, none or one would be flagged by chance. */
const STRONG_P = 0.01;
const LEAST_REPEATS = 4;
const LEAST_BALLOTS = 10;
/** Nobody looks at two pages, and plays with them, in less. */
const HASTY_MS = 2500;
const MOSTLY_EVEN = 0.8;

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** What makes a voter's ballots doubtful, each with its evidence. A taste of one's own is no fault: only what chance hardly explains counts. */
export function flagVoter(found: VoterDiagnostics, medianDwellMs: number | null): string[] {
  const { ballots, left, right, even, leftShareP, repeats, selfAgreement, consensusAgreement, consensusDecisive } =
    found;
  const flags: string[] = [];
  if (leftShareP !== null && leftShareP < STRONG_P) {
    const [side, count] = left > right ? ["left", left] : ["right", right];
    flags.push(`leans ${side} in ${count} of ${left + right} decisive ballots (p = ${leftShareP.toPrecision(1)})`);
  }
  if (selfAgreement !== null && repeats >= LEAST_REPEATS && selfAgreement < 0.5)
    flags.push(`agrees with itself on ${percent(selfAgreement)} of ${repeats} bouts shown twice`);
  const agreeing = consensusAgreement === null ? null : Math.round(consensusAgreement * consensusDecisive);
  if (agreeing !== null && agreeing < consensusDecisive / 2) {
    const p = signTest(agreeing, consensusDecisive);
    if (p < STRONG_P)
      flags.push(
        `agrees with the others in ${agreeing} of ${consensusDecisive} decisive ballots (p = ${p.toPrecision(1)})`,
      );
  }
  if (ballots >= LEAST_BALLOTS && medianDwellMs !== null && medianDwellMs < HASTY_MS)
    flags.push(`casts half of ${ballots} ballots within ${(medianDwellMs / 1000).toFixed(1)} s`);
  if (ballots >= LEAST_BALLOTS && even / ballots > MOSTLY_EVEN)
    flags.push(`calls ${percent(even / ballots)} of ${ballots} bouts even`);
  return flags;
}
