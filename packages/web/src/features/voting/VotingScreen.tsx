import type { Panel } from "@tourney/core/contract";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { useEdition } from "../../api/use-edition.js";
import { count, formatAgo, formatExact } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { PanelForm } from "./PanelForm.js";
import { useListPanelsQuery } from "./voting-api.js";

/** Panels: who was invited, how far they are, and the link to invite more. */
export function VotingScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the panels" />;
  if (edition === null) {
    return (
      <EmptyNotice title="Nothing to vote on yet" action={<Link to="/suite">Go to Suite</Link>}>
        A panel votes on the entries of one edition. Import a suite first.
      </EmptyNotice>
    );
  }
  return <Panels editionId={edition.id} />;
}

function Panels({ editionId }: { editionId: string }) {
  const {
    currentData: panels,
    error,
    refetch,
  } = useListPanelsQuery(editionId, { pollingInterval: 3000, skipPollingIfUnfocused: true });
  const [isAdding, setIsAdding] = useState(false);
  if (panels === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the panels" />;
  const add = (
    <Button tone="primary" onClick={() => setIsAdding(true)}>
      Invite a panel
    </Button>
  );
  return (
    <main>
      {panels.length === 0 ? (
        <EmptyNotice title="No panel yet" action={add}>
          A panel is a group of voters with one invitation link and a number of bouts each. They see two outputs of one
          prompt side by side, without names, and say which is better.
        </EmptyNotice>
      ) : (
        <>
          <div className="flex items-center justify-between border-b border-rule px-4 py-2.5">
            <h1 className="m-0 text-[18px] leading-6">{count(panels.length, "panel")}</h1>
            {add}
          </div>
          <div className="grid max-w-[1100px] gap-8 px-4 py-5">
            {panels.map((panel) => (
              <PanelSection key={panel.id} panel={panel} />
            ))}
          </div>
        </>
      )}
      <PanelForm editionId={editionId} open={isAdding} onOpenChange={setIsAdding} />
    </main>
  );
}

function PanelSection({ panel }: { panel: Panel }) {
  const copy = async () => {
    await navigator.clipboard.writeText(panel.url);
    toast.success("The invitation is copied.");
  };
  return (
    <section aria-labelledby={panel.id}>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 id={panel.id} className="m-0 text-[22px] leading-7">
          {panel.title}
        </h2>
        <p className="figures m-0 text-soft">
          {count(panel.ballots, "ballot")} · {count(panel.voters.length, "voter")} · {panel.quota} each
          {panel.sample ? <span className="text-care-ink"> · sample data</span> : null}
        </p>
      </div>
      {panel.message ? <p className="m-0 mt-1">“{panel.message}”</p> : null}
      <div className="mt-3 flex items-center gap-2">
        <code className="min-w-0 flex-1 truncate rounded border border-rule bg-sheet px-2.5 py-1.5 font-mono text-[12px]">
          {panel.url}
        </code>
        <Button onClick={() => void copy()}>Copy invitation</Button>
        <a
          href={panel.url}
          target="_blank"
          rel="noreferrer"
          className="inline-flex h-8 items-center rounded border border-rule bg-sheet px-3 text-ink no-underline hover:border-ink"
        >
          Open the booth
        </a>
      </div>
      <VoterTable panel={panel} />
    </section>
  );
}

function VoterTable({ panel }: { panel: Panel }) {
  const [nowMs] = useState(() => Date.now());
  if (panel.voters.length === 0) return <p className="text-soft">Nobody has opened the invitation yet.</p>;
  return (
    <table className="mt-4 w-full border-collapse text-left">
      <thead>
        <tr className="border-b border-strong-rule text-[12px] text-soft">
          <th className="py-1.5 font-medium">Voter</th>
          <th className="w-[45%] py-1.5 font-medium">Progress</th>
          <th className="py-1.5 text-right font-medium">Last ballot</th>
        </tr>
      </thead>
      <tbody>
        {panel.voters.map(({ id, name, sample, ballots, lastBallotAt }) => (
          <tr key={id} className="border-b border-rule">
            <th scope="row" className="py-1.5 font-normal">
              {name || "no name given"}
              {sample ? <span className="text-care-ink"> · sample voter</span> : null}
            </th>
            <td className="py-1.5">
              <span className="flex items-center gap-3">
                <span className="block h-1 flex-1 bg-rule">
                  <span
                    className="block h-full bg-ink"
                    style={{ width: `${Math.min(1, ballots / panel.quota) * 100}%` }}
                  />
                </span>
                <span className="w-16 text-right">
                  {ballots} of {panel.quota}
                </span>
              </span>
            </td>
            <td className="py-1.5 text-right text-soft">
              {lastBallotAt === null ? (
                "none"
              ) : (
                <time dateTime={lastBallotAt} title={formatExact(lastBallotAt)}>
                  {formatAgo(lastBallotAt, nowMs)}
                </time>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
