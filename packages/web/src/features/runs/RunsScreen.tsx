import { useParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import type { Run } from "@tourney/core/contract";
import { useState } from "react";
import { useListRunsQuery } from "../../api/ongoing-api.js";
import { useEdition } from "../../api/use-edition.js";
import { useFollow } from "../../api/use-follow.js";
import { count, formatAgo, formatExact, formatUsd } from "../../lib/format.js";
import { NoSuiteNotice } from "../../ui/NoSuiteNotice.js";
import { Button } from "../../ui/controls.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { RunDetailView } from "./RunDetailView.js";
import { ScriptsSheet } from "./ScriptsSheet.js";
import { RunPlanner } from "./RunPlanner.js";

/** Runs: what was sent, what is being sent, and the plan for the next one. */
export function RunsScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the runs" />;
  if (edition === null) {
    return (
      <NoSuiteNotice title="Nothing to run yet">A run sends the prompts of a frozen edition to entrants.</NoSuiteNotice>
    );
  }
  return <Runs editionId={edition.id} />;
}

function Runs({ editionId }: { editionId: string }) {
  const { runId } = useParams();
  const { currentData: runs, error, refetch } = useListRunsQuery(editionId);
  useFollow(refetch, { about: ["cells"], everyMs: 1000 });
  if (runs === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the runs" />;
  const chosen = runs.find(({ id }) => id === runId) ?? runs[0];
  return (
    <main className="grid min-h-full grid-cols-[1fr_440px] max-[1000px]:grid-cols-1">
      <div className="border-r border-rule px-4 py-4">
        {chosen ? (
          <>
            <div className="flex items-start justify-between gap-2 border-b border-rule pb-4">
              <RunList runs={runs} chosenId={chosen.id} />
              <Scripts />
            </div>
            <RunDetailView runId={chosen.id} />
          </>
        ) : (
          <>
            <div className="flex justify-end">
              <Scripts />
            </div>
            <EmptyNotice title="No run yet">
              Tick what to send on the right. What a run sends, what it costs and what failed shows here while it goes
              on.
            </EmptyNotice>
          </>
        )}
      </div>
      <RunPlanner editionId={editionId} />
    </main>
  );
}

/** What a run is for, where that is not to fill places. */
const PURPOSE_WORDS: Record<Run["purpose"], string> = {
  takes: "",
  redo: ", a redo",
  mends: ", mends",
  correction: ", a correction",
};

function Scripts() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button tone="quiet" onClick={() => setOpen(true)}>
        From a script…
      </Button>
      <ScriptsSheet open={open} onOpenChange={setOpen} />
    </>
  );
}

function RunList({ runs, chosenId }: { runs: Run[]; chosenId: string }) {
  const [nowMs] = useState(() => Date.now());
  return (
    <nav aria-label="Runs" className="flex min-w-0 flex-wrap gap-2">
      {runs.map(({ id, number, counts, createdAt, costUsd, purpose }) => (
        <EditionLink
          key={id}
          to={`/runs/${id}`}
          aria-current={id === chosenId ? "page" : undefined}
          className={`figures rounded border px-3 py-1.5 text-ink no-underline ${id === chosenId ? "border-ink bg-sheet" : "border-rule hover:border-ink"}`}
        >
          <span className="font-semibold">
            Run {number}
            {PURPOSE_WORDS[purpose]}
          </span>{" "}
          <span className="text-soft">
            {counts.answered} of {count(counts.total, "answer")} · {formatUsd(costUsd)} ·{" "}
            <time dateTime={createdAt} title={formatExact(createdAt)}>
              {formatAgo(createdAt, nowMs)}
            </time>
          </span>
        </EditionLink>
      ))}
    </nav>
  );
}
