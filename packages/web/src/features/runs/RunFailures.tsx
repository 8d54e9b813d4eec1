import type { RunDetail } from "@tourney/core/contract";
import { count } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { useRetryRunMutation } from "./runs-api.js";

/** What came to nothing, by cause: the first line of what was said, where, and a way to send these again. */
export function RunFailures({ run }: { run: RunDetail }) {
  const [retry, { isLoading }] = useRetryRunMutation();
  const final = run.failures.filter(({ outcome }) => outcome !== null);
  const passing = run.failures.filter(({ outcome }) => outcome === null);
  if (run.failures.length === 0) return null;
  return (
    <section aria-labelledby="failures-heading">
      <h2 id="failures-heading" className="mt-6 mb-1 text-[16px]">
        {final.length === 0 ? "Being tried again" : "Without an answer"}
      </h2>
      <ul className="m-0 list-none p-0">
        {[...final, ...passing].map(({ cause, outcome, message, remedy, count: n, generationIds, places }) => (
          <li
            key={`${cause}${outcome ?? ""}${message}`}
            className="grid grid-cols-[1fr_auto] gap-3 border-b border-rule py-2"
          >
            <div>
              <p className="m-0 break-words">
                <span className="font-semibold">{n}</span> ·{" "}
                <span className={outcome === null ? "text-care-ink" : "text-broken"}>{message}</span>
              </p>
              <p className="m-0 text-soft">{outcome === null ? "It is tried again by itself." : remedy}</p>
              <details className="text-[12px] text-soft">
                <summary className="cursor-pointer">{describePlaces(places, n)}</summary>
                {places.map(({ entrantName, promptTitle, take, attempts }) => (
                  <p key={`${entrantName}${promptTitle}${take}`} className="m-0 pl-4">
                    {entrantName} · {promptTitle}, take {take}, after {count(attempts, "request")}
                  </p>
                ))}
              </details>
            </div>
            {outcome === null ? null : (
              <Button compact disabled={isLoading} onClick={() => void retry({ runId: run.id, generationIds })}>
                Retry {generationIds.length === 1 ? "it" : `these ${generationIds.length}`}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function describePlaces(places: RunDetail["failures"][number]["places"], n: number): string {
  const first = places[0];
  if (first === undefined) return "where";
  return n === 1
    ? `${first.entrantName}, ${first.promptTitle}`
    : `${first.entrantName}, ${first.promptTitle} and ${n - 1} more`;
}
