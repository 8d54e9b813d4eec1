import type { Entrant } from "@tourney/core/contract";
import { useTestConnectionMutation } from "../../api/entrants-api.js";
import { count, formatMs } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { toApiError } from "../../api/tourney-api.js";

/** Tests an entrant's endpoint when asked, and says exactly what came back. */
export function ConnectionCell({ entrant }: { entrant: Entrant }) {
  const [test, { data, isLoading, error }] = useTestConnectionMutation();
  if (entrant.endpoint.protocol === "by-hand") return <span className="text-soft">by hand</span>;
  const failure = error ? { what: toApiError(error).detail, why: "", remedy: toApiError(error).remedy } : data?.error;
  return (
    <div className="grid max-w-64 justify-items-start gap-1">
      <Button compact disabled={isLoading} onClick={() => void test(entrant.id)} aria-label={`Test ${entrant.name}`}>
        {isLoading ? "Asking …" : "Test"}
      </Button>
      {data?.ok ? (
        <span className="text-[12px] whitespace-nowrap text-sound">✓ first token in {formatMs(data.latencyMs)}</span>
      ) : null}
      {!data && !failure && entrant.keyPresent === false ? (
        <span className="text-[12px] text-broken">✕ its key is not set</span>
      ) : null}
      {data?.ok && data.reportedModel !== null && data.reportedModel !== entrant.model ? (
        <p className="m-0 text-care-ink">Calls itself {data.reportedModel}.</p>
      ) : null}
      {data?.ok && data.models.length > 0 ? (
        <details className="text-[12px] text-soft">
          <summary className="cursor-pointer">{count(data.models.length, "model")} listed there</summary>
          <span className="block max-h-32 overflow-auto font-mono break-all">{data.models.join(", ")}</span>
        </details>
      ) : null}
      {failure ? (
        <p role="alert" className="m-0 text-[12px] leading-4">
          <span className="text-broken">✕ {failure.what}</span> {failure.why}{" "}
          <span className="text-soft">{failure.remedy}</span>
        </p>
      ) : null}
    </div>
  );
}
