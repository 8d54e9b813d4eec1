import type { Panel, PanelVoter, VoterReliability } from "@tourney/core/contract";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { formatAgo, formatExact, formatMs, formatShare } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { WhyForm } from "./WhyForm.js";
import { useLeaveVoterOutMutation, useRevokeVoterMutation, useTakeVoterInMutation } from "./voting-api.js";

/** Who votes in a panel, how far each is, and how far each can be relied on. */
export function VoterTable({ panel, reliability }: { panel: Panel; reliability: readonly VoterReliability[] }) {
  const [nowMs] = useState(() => Date.now());
  if (panel.voters.length === 0) return <p className="text-soft">Nobody has opened the invitation yet.</p>;
  const head = "py-1.5 pl-4 text-right font-medium";
  return (
    <div className="mt-4 overflow-x-auto">
      <table className="w-full border-collapse text-left">
        <thead>
          <tr className="border-b border-strong-rule text-[12px] text-soft">
            <th className="py-1.5 font-medium">Voter</th>
            <th className="w-[18%] py-1.5 font-medium">Progress</th>
            <th className={head} title="Of ballots that are not even, those for the left page, with a 95 % interval">
              Left
            </th>
            <th className={head}>Even</th>
            <th className={head} title="On bouts shown twice with the sides exchanged">
              With itself
            </th>
            <th
              className={head}
              title="Of ballots that are not even, those that agree with ratings made without this voter"
            >
              With others
            </th>
            <th className={head}>Median time</th>
            <th className={head}>Last ballot</th>
            <th className="py-1.5 pl-4">
              <span className="sr-only">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {panel.voters.map((voter) => (
            <VoterRow
              key={voter.id}
              {...{ voter, nowMs }}
              quota={panel.quota}
              found={reliability.find(({ voterId }) => voterId === voter.id)}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface VoterRowProps {
  voter: PanelVoter;
  quota: number;
  nowMs: number;
  found: VoterReliability | undefined;
}

function VoterRow({ voter, quota, nowMs, found }: VoterRowProps) {
  const { name, sample, isLead, ballots, lastBallotAt, leftOut, revoked } = voter;
  const number = "figures py-1.5 pl-4 text-right align-top whitespace-nowrap";
  return (
    <tr className={`border-b border-rule ${leftOut === null ? "" : "text-soft"}`}>
      <th scope="row" className="py-1.5 align-top font-normal">
        <span className="whitespace-nowrap">
          {name || "no name given"}
          {sample ? <span className="text-care-ink"> · sample voter</span> : null}
        </span>
        {isLead ? <span className="text-care-ink"> · the lead, not blind</span> : null}
        {revoked ? <span> · access ended</span> : null}
        {leftOut === null ? null : <p className="m-0 text-[13px]">Left out of the ratings: {leftOut}</p>}
        {listHabits(voter).map((habit) => (
          <p key={habit} className="m-0 text-[13px] text-soft">
            {habit}
          </p>
        ))}
        {found?.flags.map((flag) => (
          <p key={flag} className="m-0 text-[13px] text-care-ink">
            ◆ {flag}
          </p>
        ))}
      </th>
      <td className="py-1.5 align-top">
        <span className="flex items-center gap-3">
          <span className="block h-1 flex-1 bg-rule">
            <span className="block h-full bg-ink" style={{ width: `${Math.min(1, ballots / quota) * 100}%` }} />
          </span>
          <span className="figures text-right whitespace-nowrap">
            {ballots} of {quota}
          </span>
        </span>
      </td>
      <td className={number}>{found?.leftShare ? <Share {...found.leftShare} /> : "—"}</td>
      <td className={number}>{formatShare(found?.evenShare ?? null)}</td>
      <td className={number}>
        {found?.selfAgreement ? (
          <>
            {formatShare(found.selfAgreement.share)} <span className="text-soft">of {found.selfAgreement.of}</span>
          </>
        ) : (
          "—"
        )}
      </td>
      <td className={number}>{found?.agreement ? <Share {...found.agreement} /> : "—"}</td>
      <td className={number}>{formatMs(found?.medianDwellMs ?? null)}</td>
      <td className={`${number} text-soft`}>
        {lastBallotAt === null ? (
          "none"
        ) : (
          <time dateTime={lastBallotAt} title={formatExact(lastBallotAt)}>
            {formatAgo(lastBallotAt, nowMs)}
          </time>
        )}
      </td>
      <td className="py-1 pl-4 text-right align-top whitespace-nowrap">
        <VoterActions voter={voter} flags={found?.flags ?? []} />
      </td>
    </tr>
  );
}

/** Fewer passed over, or from one network, are nothing to speak of. */
const MANY_SKIPS = 5;
const MANY_NEIGHBOURS = 5;

/** What the lead may want to know of a voter, and what need not mean anything: a room of people has one network address. */
function listHabits({ skipped, ballots, sample, sharesPlaceWith }: PanelVoter): string[] {
  return [
    ...(skipped >= MANY_SKIPS ? [`passed over ${skipped} of ${skipped + ballots} bouts`] : []),
    // Sample voters all vote from this machine.
    ...(!sample && sharesPlaceWith >= MANY_NEIGHBOURS
      ? [`came from the same network as ${sharesPlaceWith} others`]
      : []),
  ];
}

function Share({ share, low, high, of }: { share: number; low: number; high: number; of: number }): ReactNode {
  return (
    <span title={`${formatShare(low)} to ${formatShare(high)}, of ${of} ballots`}>
      {formatShare(share)} <span className="text-soft">of {of}</span>
    </span>
  );
}

function VoterActions({ voter, flags }: { voter: PanelVoter; flags: readonly string[] }) {
  const [leaveOut, leaving] = useLeaveVoterOutMutation();
  const [takeIn, taking] = useTakeVoterInMutation();
  const [revoke, revoking] = useRevokeVoterMutation();
  const [isAsking, setIsAsking] = useState(false);
  const isBusy = leaving.isLoading || taking.isLoading || revoking.isLoading;
  const name = voter.name || "this voter";
  const submit = async (why: string) => {
    const result = await leaveOut({ voterId: voter.id, why });
    if (!result.data) return;
    setIsAsking(false);
    toast.success(`${name} is left out of the ratings.`, {
      action: { label: "Undo", onClick: () => void takeIn(voter.id) },
    });
  };
  if (isAsking) {
    return (
      <WhyForm
        label={`Why ${name} is left out`}
        verb="Leave out"
        likely={flags[0] ?? (voter.isLead ? "not blind" : "")}
        isBusy={isBusy}
        onSubmit={(why) => void submit(why)}
        onCancel={() => setIsAsking(false)}
      />
    );
  }
  return (
    <span className="inline-flex gap-1">
      {voter.leftOut === null ? (
        <Button compact tone="quiet" disabled={isBusy} onClick={() => setIsAsking(true)}>
          Leave out …
        </Button>
      ) : (
        <Button compact tone="quiet" disabled={isBusy} onClick={() => void takeIn(voter.id)}>
          Let count again
        </Button>
      )}
      <Button
        compact
        tone="quiet"
        disabled={isBusy}
        onClick={() => void revoke({ voterId: voter.id, revoked: !voter.revoked })}
      >
        {voter.revoked ? "Give access" : "End access"}
      </Button>
    </span>
  );
}
