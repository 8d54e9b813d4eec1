import type { RunDetail } from "@tourney/core/contract";
import { useState } from "react";
import { AllowNotices } from "../../ui/AllowNotices.js";
import { Button, Field } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import {
  useCancelRunMutation,
  useChangeRunMutation,
  usePauseRunMutation,
  useResumeRunMutation,
  useRetryRunMutation,
} from "./runs-api.js";

/** The run's name and state, and what can be done with it as a whole. */
export function RunActions({ run }: { run: RunDetail }) {
  const [retry, retrying] = useRetryRunMutation();
  const [cancel, cancelling] = useCancelRunMutation();
  const [pause, pausing] = usePauseRunMutation();
  const [resume, resuming] = useResumeRunMutation();
  const [isBudgetOpen, setIsBudgetOpen] = useState(false);
  const { counts } = run;
  const lost = counts.failed + counts.cancelled + counts.untaken;
  const waiting = counts.queued + counts.waiting;
  const state = run.cancelledAt ? "cancelled" : run.pausedAt ? "paused" : counts.held > 0 ? "at its budget" : null;
  return (
    <>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1 id="run-heading" className="m-0 text-[22px] leading-7">
          Run {run.number}
          {state ? <span className="text-care-ink"> {state}</span> : null}
        </h1>
        <div className="flex flex-wrap gap-2">
          {waiting + counts.running > 0 ? <AllowNotices /> : null}
          {run.pausedAt ? (
            <Button disabled={resuming.isLoading} onClick={() => void resume(run.id)}>
              Resume
            </Button>
          ) : waiting > 0 ? (
            <Button disabled={pausing.isLoading} onClick={() => void pause(run.id)}>
              Pause
            </Button>
          ) : null}
          {waiting > 0 ? (
            <Button disabled={cancelling.isLoading} onClick={() => void cancel(run.id)}>
              Cancel what waits
            </Button>
          ) : null}
          {lost > 0 ? (
            <Button disabled={retrying.isLoading} onClick={() => void retry({ runId: run.id })}>
              Retry {lost}
            </Button>
          ) : null}
          <Button aria-expanded={isBudgetOpen} onClick={() => setIsBudgetOpen(!isBudgetOpen)}>
            Budget…
          </Button>
        </div>
      </div>
      {isBudgetOpen ? <BudgetForm key={run.budgetUsd} run={run} onDone={() => setIsBudgetOpen(false)} /> : null}
      {[retrying, cancelling, pausing, resuming].map(({ error }, i) =>
        error ? <ErrorNotice key={i} error={error} /> : null,
      )}
    </>
  );
}

function BudgetForm({ run, onDone }: { run: RunDetail; onDone: () => void }) {
  const [text, setText] = useState(run.budgetUsd === null ? "" : String(run.budgetUsd));
  const [change, { isLoading, error }] = useChangeRunMutation();
  const value = text.trim() === "" ? null : Number(text);
  const isWrong = value !== null && !(value > 0);
  const save = async () => {
    const result = await change({ runId: run.id, budgetUsd: value });
    if (!result.error) onDone();
  };
  return (
    <form
      className="mt-3 flex items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isWrong) void save();
      }}
    >
      <Field
        className="w-60"
        label="Budget in US dollars"
        hint="Empty for none. What was held is queued again as far as it is covered."
        inputMode="decimal"
        value={text}
        error={isWrong ? "give an amount above 0, or nothing" : undefined}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" className="mb-6" disabled={isLoading || isWrong}>
        Set
      </Button>
      {error ? <ErrorNotice error={error} /> : null}
    </form>
  );
}
