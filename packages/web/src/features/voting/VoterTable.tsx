import type { Panel, PanelVoter, VoterReliability } from "@tourney/core/contract";
import { type Range, useVirtualizer } from "@tanstack/react-virtual";
import { Fragment, type ReactNode, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { formatAgo, formatExact, formatMs, formatShare } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { SpaceRow } from "../../ui/SpaceRow.js";
import { WhyForm } from "./WhyForm.js";
import { useLeaveVoterOutMutation, useRevokeVoterMutation, useTakeVoterInMutation } from "./voting-api.js";

/** Of more voters than this only those in sight are drawn, in a frame of its own, so that what is below stays near. */
const MOST_AT_ONCE = 60;
const ROW_PX = 41;

/** Who votes in a panel, how far each is, and how far each can be relied on. */
export function VoterTable({ panel, reliability }: { panel: Panel; reliability: readonly VoterReliability[] }) {
  const { voters, quota } = panel;
  const [nowMs] = useState(() => Date.now());
  const reliabilityOf = useMemo(() => new Map(reliability.map((one) => [one.voterId, one])), [reliability]);
  /** Whose forms are open: their rows stay drawn, so that nothing that was written there is lost. */
  const [asking, setAsking] = useState<ReadonlySet<string>>(new Set());
  const scroller = useRef<HTMLDivElement>(null);
  const isLong = voters.length > MOST_AT_ONCE;
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are called while drawing, never kept
  const rows = useVirtualizer({
    enabled: isLong,
    count: voters.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    getItemKey: (index) => voters[index]!.id,
    overscan: 8,
    rangeExtractor: (range) =>
      [...voters.keys()].filter((index) => asking.has(voters[index]!.id) || isWithin(index, range)),
  });
  if (voters.length === 0) return <p className="text-soft">Nobody has opened the invitation yet.</p>;
  const drawRow = (index: number, measured?: (row: HTMLTableRowElement | null) => void) => (
    <VoterRow
      key={voters[index]!.id}
      {...{ nowMs, quota, index, measured }}
      voter={voters[index]!}
      found={reliabilityOf.get(voters[index]!.id)}
      isAsking={asking.has(voters[index]!.id)}
      onAsk={(isAsking) => setAsking((before) => withOrWithout(before, voters[index]!.id, isAsking))}
    />
  );
  const shown = rows.getVirtualItems();
  return (
    <div
      ref={scroller}
      className={`mt-4 overflow-auto ${isLong ? "max-h-[70vh] border-b border-rule" : ""}`}
      {...(isLong && { role: "region", "aria-label": `Voters of ${panel.title}`, tabIndex: 0 })}
    >
      <table
        className={`w-full border-collapse text-left ${isLong ? "min-w-[1160px]" : ""}`}
        aria-rowcount={voters.length + 1}
      >
        <VoterHead isLong={isLong} />
        <tbody>
          {isLong
            ? shown.map(({ index, key, start }, at) => (
                <Fragment key={key}>
                  <SpaceRow heightPx={start - (shown[at - 1]?.end ?? 0)} />
                  {drawRow(index, rows.measureElement)}
                </Fragment>
              ))
            : voters.map((_, index) => drawRow(index))}
          {isLong ? <SpaceRow heightPx={rows.getTotalSize() - (shown.at(-1)?.end ?? 0)} /> : null}
        </tbody>
      </table>
    </div>
  );
}

const isWithin = (index: number, { startIndex, endIndex, overscan }: Range): boolean =>
  index >= startIndex - overscan && index <= endIndex + overscan;

function withOrWithout(ids: ReadonlySet<string>, id: string, isIn: boolean): ReadonlySet<string> {
  const others = [...ids].filter((one) => one !== id);
  return new Set(isIn ? [...others, id] : others);
}

/** @param isLong whether other rows are drawn all the time, which must not move the columns. */
function VoterHead({ isLong }: { isLong: boolean }) {
  const head = "py-1.5 pl-4 text-right font-medium";
  return (
    // A border of a row would stay behind when the table is scrolled.
    <thead className="sticky top-0 z-10 bg-ground shadow-[inset_0_-1px_var(--strong-rule)]">
      <tr className="text-[12px] text-soft">
        <th className={`py-1.5 font-medium ${isLong ? "w-[22%]" : ""}`}>Voter</th>
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
        <th className={`py-1.5 pl-4 ${isLong ? "w-[16%]" : ""}`}>
          <span className="sr-only">What to do</span>
        </th>
      </tr>
    </thead>
  );
}

interface VoterRowProps {
  voter: PanelVoter;
  quota: number;
  nowMs: number;
  found: VoterReliability | undefined;
  index: number;
  /** Told how high the row is, where only rows in sight are drawn. */
  measured: ((row: HTMLTableRowElement | null) => void) | undefined;
  isAsking: boolean;
  onAsk: (isAsking: boolean) => void;
}

function VoterRow({ voter, quota, nowMs, found, index, measured, isAsking, onAsk }: VoterRowProps) {
  const { name, sample, isLead, ballots, lastBallotAt, leftOut, revoked } = voter;
  const number = "figures py-1.5 pl-4 text-right align-top whitespace-nowrap";
  return (
    <tr
      ref={measured}
      data-index={index}
      aria-rowindex={index + 2}
      className={`border-b border-rule ${leftOut === null ? "" : "text-soft"}`}
    >
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
      <td className={`${number} text-soft ${isAsking ? "invisible" : ""}`}>
        {lastBallotAt === null ? (
          "none"
        ) : (
          <time dateTime={lastBallotAt} title={formatExact(lastBallotAt)}>
            {formatAgo(lastBallotAt, nowMs)}
          </time>
        )}
      </td>
      <td className="py-1 pl-4 text-right align-top whitespace-nowrap">
        <VoterActions voter={voter} flags={found?.flags ?? []} {...{ isAsking, onAsk }} />
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

interface VoterActionsProps {
  voter: PanelVoter;
  flags: readonly string[];
  /** Whether the form that asks why is open. */
  isAsking: boolean;
  onAsk: (isAsking: boolean) => void;
}

function VoterActions({ voter, flags, isAsking, onAsk }: VoterActionsProps) {
  const [leaveOut, leaving] = useLeaveVoterOutMutation();
  const [takeIn, taking] = useTakeVoterInMutation();
  const [revoke, revoking] = useRevokeVoterMutation();
  const isBusy = leaving.isLoading || taking.isLoading || revoking.isLoading;
  const name = voter.name || "this voter";
  const submit = async (why: string) => {
    const result = await leaveOut({ voterId: voter.id, why });
    if (!result.data) return;
    onAsk(false);
    toast.success(`${name} is left out of the ratings.`, {
      action: { label: "Undo", onClick: () => void takeIn(voter.id) },
    });
  };
  return (
    // The form lies over the line, in place of the last ballot: the columns stay where they are while it is open.
    <span className="relative inline-block">
      <span className={`inline-flex gap-1 ${isAsking ? "invisible" : ""}`}>
        {voter.leftOut === null ? (
          <Button compact tone="quiet" disabled={isBusy} onClick={() => onAsk(true)}>
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
      {isAsking ? (
        <span className="absolute top-0 right-0 bg-ground pl-3">
          <WhyForm
            label={`Why ${name} is left out`}
            verb="Leave out"
            likely={flags[0] ?? (voter.isLead ? "not blind" : "")}
            isBusy={isBusy}
            onSubmit={(why) => void submit(why)}
            onCancel={() => onAsk(false)}
          />
        </span>
      ) : null}
    </span>
  );
}
