import type { Outcome, RunDetail } from "@tourney/core/contract";
import { useState } from "react";
import { useListEntrantsQuery } from "../../api/entrants-api.js";
import { count, formatMs, formatUsd } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { useListRedosQuery, useUndoRedoMutation } from "../../api/redos-api.js";
import { RunActions } from "./RunActions.js";
import { RunFailures } from "./RunFailures.js";
import { useExtendRunMutation, useGetRunQuery, useTryEndpointMutation } from "./runs-api.js";

/** One run: progress, pace and spend, entrants and prompts, failures by cause, and what can be done about them. */
export function RunDetailView({ runId }: { runId: string }) {
  const { currentData: run, error, refetch } = useGetRunQuery(runId);
  if (run === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the run" />;
  return (
    <section aria-labelledby="run-heading" className="pt-4">
      <RunActions run={run} />
      <RedoNotice run={run} />
      {error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : null}
      <Progress run={run} />
      <PausedEndpoints run={run} />
      <Outcomes run={run} />
      <RunFailures run={run} />
      <ByEntrant run={run} />
      <ByPrompt run={run} />
      {run.acceptedWhy ? (
        <p className="mt-4 border-l-2 border-care pl-3 text-soft">
          Compared although unlike: {run.unlike.map(({ message }) => message).join(" ")} Accepted because “
          {run.acceptedWhy}”.
        </p>
      ) : null}
    </section>
  );
}

/** Why a run asks for takes again, and the way back. */
function RedoNotice({ run: { id, editionId, redoReason } }: { run: RunDetail }) {
  const { currentData: redos } = useListRedosQuery(editionId, { skip: redoReason === null });
  const [undo, { isLoading, error }] = useUndoRedoMutation();
  if (redoReason === null) return null;
  const redo = redos?.find(({ runId }) => runId === id);
  return (
    <div className="mt-3 border-l-2 border-care pl-3">
      <p className="m-0">
        Asked again: “{redoReason}”.{" "}
        <span className="text-soft">
          {redo
            ? `${count(redo.superseded, "take")} and ${count(redo.ballots, "ballot")} were set aside${redo.undoneAt ? ", and hold again: it was undone" : ""}.`
            : ""}
        </span>
      </p>
      {error ? <ErrorNotice error={error} /> : null}
      {redo && redo.undoneAt === null ? (
        <Button compact className="mt-1" disabled={isLoading} onClick={() => void undo(redo.id)}>
          Undo: let the old answers hold
        </Button>
      ) : null}
    </div>
  );
}

function Progress({ run: { counts, costUsd, budgetUsd, inputTokens, outputTokens, pace, takes } }: { run: RunDetail }) {
  const parts = [
    { key: "answered", n: counts.answered, className: "bg-ink" },
    { key: "running", n: counts.running, className: "bg-soft breathing" },
    { key: "failed", n: counts.failed, className: "bg-broken" },
    { key: "held", n: counts.held, className: "bg-care" },
    { key: "cancelled", n: counts.cancelled, className: "hatched" },
  ];
  const waiting = counts.queued + counts.waiting;
  const rate = pace.answersPerMinute === null ? "no pace yet" : `${pace.answersPerMinute.toFixed(1)} answers a minute`;
  return (
    <div className="my-4">
      <div
        className="flex h-3 border border-ink"
        role="progressbar"
        aria-valuemin={0}
        aria-valuemax={counts.total}
        aria-valuenow={counts.answered}
        aria-label="Answers"
      >
        {parts.map(({ key, n, className }) => (
          <span key={key} className={className} style={{ width: `${(n / Math.max(1, counts.total)) * 100}%` }} />
        ))}
      </div>
      <dl className="figures m-0 mt-4 grid grid-cols-4 gap-4 max-[800px]:grid-cols-2">
        <Figure
          value={`${counts.answered} of ${counts.total}`}
          label={`answered, ${count(takes, "take")} each · ${counts.recorded} of ${counts.toRecord} recorded`}
        />
        <Figure
          value={
            waiting + counts.running === 0
              ? "done"
              : pace.remainingSeconds === null
                ? "—"
                : formatMs(pace.remainingSeconds * 1000)
          }
          label={waiting + counts.running === 0 ? "nothing is left to send" : `remaining, at ${rate}`}
        />
        <Figure
          value={budgetUsd === null ? formatUsd(costUsd) : `${formatUsd(costUsd)} of ${formatUsd(budgetUsd)}`}
          label={`${inputTokens.toLocaleString("en")} in · ${outputTokens.toLocaleString("en")} out`}
        />
        <Figure
          value={`${counts.running} · ${waiting}`}
          label={`in flight · waiting${pace.tokensPerSecond === null || counts.running === 0 ? "" : ` · ${Math.round(pace.tokensPerSecond)} tokens a second`}`}
        />
      </dl>
    </div>
  );
}

function Figure({ value, label }: { value: string; label: string }) {
  return (
    <div className="border-t border-ink pt-2">
      <dd className="m-0 font-display text-[20px] leading-6 font-semibold">{value}</dd>
      <dt className="text-[12px] text-soft">{label}</dt>
    </div>
  );
}

function PausedEndpoints({ run: { endpoints } }: { run: RunDetail }) {
  const [nowMs] = useState(() => Date.now());
  const [tryEndpoint, trying] = useTryEndpointMutation();
  const paused = endpoints.filter((endpoint) => endpoint.paused.length > 0);
  if (paused.length === 0) return null;
  return (
    <ul className="m-0 mb-3 list-none border-l-2 border-care p-0 pl-3" role="status">
      {paused.flatMap(({ id, baseUrl, paused: models }) =>
        models.map(({ model, until, reason }, index) => (
          <li key={`${id} ${model}`} className="py-0.5">
            <span className="font-semibold">
              {model} at {baseUrl} is paused
            </span>{" "}
            for about {formatMs(Math.max(1000, Date.parse(until) - nowMs))}, because it failed in a row: {reason} Others
            go on; then one request is sent, to see.
            {index === 0 ? (
              <Button compact className="ml-2" disabled={trying.isLoading} onClick={() => void tryEndpoint(id)}>
                Try now
              </Button>
            ) : null}
          </li>
        )),
      )}
      {trying.error ? <ErrorNotice error={trying.error} /> : null}
    </ul>
  );
}

const OUTCOME_WORDS: Record<Outcome, string> = {
  answered: "answered",
  truncated: "cut at the limit",
  refused: "declined",
  empty: "empty",
  no_artifact: "no page",
  wrong_thing: "not what was asked for",
  stalled: "stalled",
  rate_limited: "rate-limited out",
  endpoint_down: "endpoint down",
  rejected: "request refused",
  over_budget: "over budget",
  untaken: "page not taken out",
  cancelled: "cancelled",
};

function Outcomes({ run: { outcomes } }: { run: RunDetail }) {
  if (outcomes.length === 0) return null;
  return (
    <ul
      className="m-0 flex list-none flex-wrap gap-x-4 gap-y-1 border-t border-rule p-0 pt-2 text-soft"
      aria-label="Outcomes"
    >
      {outcomes.map(({ outcome, count: n }) => (
        <li key={outcome}>
          <span className="font-semibold text-ink">{n}</span> {OUTCOME_WORDS[outcome]}
        </li>
      ))}
    </ul>
  );
}

const headClass = "py-1.5 text-right font-medium";

function ByEntrant({ run }: { run: RunDetail }) {
  return (
    <>
      <table className="mt-6 w-full border-collapse text-left">
        <thead>
          <tr className="border-b border-strong-rule text-[12px] text-soft">
            <th className="py-1.5 font-medium">Entrant</th>
            <th className={headClass}>Answered</th>
            <th className={headClass}>Failed</th>
            <th className={headClass}>Median time</th>
            <th className={headClass}>Cost</th>
          </tr>
        </thead>
        <tbody>
          {run.byEntrant.map(
            ({ entrantId, name, glyph, answered, failed, total, medianTotalMs, costUsd, mismatched }) => (
              <tr key={entrantId} className="border-b border-rule">
                <th scope="row" className="py-1.5 font-normal">
                  <span className="flex items-center gap-2">
                    <EntrantGlyph glyph={glyph} /> {name}
                    {mismatched > 0 ? (
                      <span className="text-care-ink">{count(mismatched, "answer")} by another model</span>
                    ) : null}
                  </span>
                </th>
                <td className="py-1.5 text-right">
                  {answered} of {total}
                </td>
                <td className="py-1.5 text-right">
                  {failed === 0 ? "—" : <span className="text-broken">{failed}</span>}
                </td>
                <td className="py-1.5 text-right">{formatMs(medianTotalMs)}</td>
                <td className="py-1.5 text-right">{formatUsd(costUsd)}</td>
              </tr>
            ),
          )}
        </tbody>
      </table>
      <AddEntrant run={run} />
    </>
  );
}

/** A new entrant joins over the same prompts and takes, and nothing else is sent again. */
function AddEntrant({ run }: { run: RunDetail }) {
  const { currentData: entrants = [] } = useListEntrantsQuery();
  const [extend, { isLoading, error }] = useExtendRunMutation();
  const others = entrants.filter(
    ({ id, endpoint, retiredAt }) =>
      endpoint.protocol !== "by-hand" && retiredAt === null && !run.byEntrant.some(({ entrantId }) => entrantId === id),
  );
  if (others.length === 0) return null;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <span className="text-soft">Add to this run:</span>
      {others.map(({ id, name, glyph }) => (
        <Button key={id} compact disabled={isLoading} onClick={() => void extend({ runId: run.id, entrantIds: [id] })}>
          <EntrantGlyph glyph={glyph} /> {name}
        </Button>
      ))}
      {error ? <ErrorNotice error={error} /> : null}
    </div>
  );
}

function ByPrompt({ run: { byPrompt } }: { run: RunDetail }) {
  return (
    <ul className="m-0 mt-6 list-none p-0" aria-label="By prompt">
      {byPrompt.map(({ promptId, title, answered, failed, total }) => (
        <li key={promptId} className="grid grid-cols-[minmax(0,220px)_1fr_70px] items-center gap-3 py-1">
          <span className="truncate">{title}</span>
          <span className="flex h-1.5 bg-rule" aria-hidden="true">
            <span className="bg-ink" style={{ width: `${(answered / total) * 100}%` }} />
            <span className="bg-broken" style={{ width: `${(failed / total) * 100}%` }} />
          </span>
          <span className="text-right text-soft">
            {answered} of {total}
          </span>
        </li>
      ))}
    </ul>
  );
}
