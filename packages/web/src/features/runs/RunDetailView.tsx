import type { RunDetail } from "@tourney/core/contract";
import { count, formatMs, formatUsd } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { useCancelRunMutation, useGetRunQuery, useRetryRunMutation } from "./runs-api.js";

/** One run: progress, spend, entrants, failures, and what can be done about them. */
export function RunDetailView({ runId }: { runId: string }) {
  const {
    currentData: run,
    error,
    refetch,
  } = useGetRunQuery(runId, { pollingInterval: 1000, skipPollingIfUnfocused: true });
  if (run === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the run" />;
  return (
    <section aria-labelledby="run-heading" className="pt-4">
      <RunHead run={run} />
      <Progress run={run} />
      <ByEntrant run={run} />
      <Failures run={run} />
    </section>
  );
}

function RunHead({ run }: { run: RunDetail }) {
  const [retry, retrying] = useRetryRunMutation();
  const [cancel, cancelling] = useCancelRunMutation();
  const { counts } = run;
  const lost = counts.failed + counts.cancelled;
  return (
    <>
      <div className="flex items-center justify-between">
        <h1 id="run-heading" className="m-0 text-[22px] leading-7">
          Run {run.number}
          {run.cancelledAt ? <span className="text-care-ink"> cancelled</span> : null}
        </h1>
        <div className="flex gap-2">
          {counts.queued > 0 ? (
            <Button disabled={cancelling.isLoading} onClick={() => void cancel(run.id)}>
              Cancel what waits
            </Button>
          ) : null}
          {lost > 0 ? (
            <Button disabled={retrying.isLoading} onClick={() => void retry(run.id)}>
              Retry {lost}
            </Button>
          ) : null}
        </div>
      </div>
      {retrying.error ? <ErrorNotice error={retrying.error} /> : null}
      {cancelling.error ? <ErrorNotice error={cancelling.error} /> : null}
    </>
  );
}

function Progress({ run: { counts, costUsd, inputTokens, outputTokens, takes } }: { run: RunDetail }) {
  const parts = [
    { key: "answered", n: counts.answered, className: "bg-ink" },
    { key: "running", n: counts.running, className: "bg-soft breathing" },
    { key: "failed", n: counts.failed, className: "bg-broken" },
    { key: "cancelled", n: counts.cancelled, className: "hatched" },
  ];
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
      <dl className="figures m-0 mt-4 grid grid-cols-4 gap-4">
        <Figure value={`${counts.answered} of ${counts.total}`} label={`answered, ${count(takes, "take")} each`} />
        <Figure value={`${counts.recorded} of ${counts.toRecord}`} label="recorded" />
        <Figure
          value={formatUsd(costUsd)}
          label={`${inputTokens.toLocaleString("en")} in · ${outputTokens.toLocaleString("en")} out`}
        />
        <Figure value={`${counts.running} · ${counts.queued}`} label="in flight · waiting" />
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

function ByEntrant({ run: { byEntrant } }: { run: RunDetail }) {
  return (
    <table className="mt-6 w-full border-collapse text-left">
      <thead>
        <tr className="border-b border-strong-rule text-[12px] text-soft">
          <th className="py-1.5 font-medium">Entrant</th>
          <th className="py-1.5 text-right font-medium">Answered</th>
          <th className="py-1.5 text-right font-medium">Median time</th>
          <th className="py-1.5 text-right font-medium">Cost</th>
        </tr>
      </thead>
      <tbody>
        {byEntrant.map(({ entrantId, name, glyph, answered, total, medianTotalMs, costUsd }) => (
          <tr key={entrantId} className="border-b border-rule">
            <th scope="row" className="py-1.5 font-normal">
              <span className="flex items-center gap-2">
                <EntrantGlyph glyph={glyph} /> {name}
              </span>
            </th>
            <td className="py-1.5 text-right">
              {answered} of {total}
            </td>
            <td className="py-1.5 text-right">{formatMs(medianTotalMs)}</td>
            <td className="py-1.5 text-right">{formatUsd(costUsd)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Failures({ run: { failures } }: { run: RunDetail }) {
  if (failures.length === 0)
    return (
      <p className="mt-4 text-soft">
        Nothing failed for good. What was busy was sent again by itself; each entry's Request tab says how often.
      </p>
    );
  return (
    <section aria-labelledby="failures-heading">
      <h2 id="failures-heading" className="mt-6 mb-1 text-[16px]">
        Without an answer
      </h2>
      <ul className="m-0 list-none p-0">
        {failures.map(({ generationId, entrantName, promptTitle, take, attempts, failure }) => (
          <li key={generationId} className="border-b border-rule py-2">
            <p className="m-0">
              <span className="font-semibold">{entrantName}</span> · {promptTitle}, take {take}{" "}
              <span className="text-soft">after {count(attempts, "attempt")}</span>
            </p>
            <p className="m-0 text-broken">{failure.message}</p>
            <p className="m-0 text-soft">{failure.remedy}</p>
          </li>
        ))}
      </ul>
    </section>
  );
}
