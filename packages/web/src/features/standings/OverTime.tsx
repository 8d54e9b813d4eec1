import { nameOfCompetitor } from "@tourney/core/conclusions";
import type { RatingsOverTime, Standing, Standings } from "@tourney/core/contract";
import { lazy, Suspense, useState } from "react";
import { formatExact } from "../../lib/format.js";
import { Toggle } from "../../ui/controls.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import type { Along } from "./OverTimeChart.js";
import { useGetRatingsOverTimeQuery } from "./standings-api.js";
import { Td, Th } from "./table-cells.js";

const OverTimeChart = lazy(() =>
  import("./OverTimeChart.js").then(({ OverTimeChart }) => ({ default: OverTimeChart })),
);

/** Whether the ratings have settled: what they were after fewer ballots. Counted only when it is asked for, since each step is a count of its own. */
export function OverTime({ standings: { edition, counts, rows } }: { standings: Standings }) {
  const [isOpen, setOpen] = useState(false);
  const [along, setAlong] = useState<Along>("ballots");
  const [isTable, setTable] = useState(false);
  const { currentData, error } = useGetRatingsOverTimeQuery({ editionId: edition.id, counts }, { skip: !isOpen });
  return (
    <section aria-labelledby="over-time-heading" className="mt-8">
      <div className="flex flex-wrap items-center gap-1.5 border-b border-strong-rule pb-1.5">
        <h2 id="over-time-heading" className="m-0 mr-2 text-[16px]">
          Ratings over time
        </h2>
        <Toggle pressed={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "shown" : "show"}
        </Toggle>
        {isOpen ? (
          <>
            <Toggle className="ml-3" pressed={along === "ballots"} onClick={() => setAlong("ballots")}>
              by ballots
            </Toggle>
            <Toggle pressed={along === "days"} onClick={() => setAlong("days")}>
              by day
            </Toggle>
            <Toggle className="ml-3" pressed={isTable} onClick={() => setTable(!isTable)}>
              as a table
            </Toggle>
          </>
        ) : null}
      </div>
      {!isOpen ? null : error ? (
        <ErrorNotice error={error} />
      ) : currentData === undefined ? (
        <Loading what="the ratings over time" />
      ) : isTable ? (
        <Steps over={currentData} rows={rows} />
      ) : (
        <Suspense fallback={<Loading what="the chart" />}>
          <OverTimeChart {...currentData} {...{ rows, along }} />
        </Suspense>
      )}
      {isOpen ? (
        <p className="mt-2 mb-0 text-[13px] text-soft">
          Each point counts the first ballots up to there, by the same method. Lines that still cross say that it is
          early; lines that move apart late, that voters, prompts or models have changed.
        </p>
      ) : null}
    </section>
  );
}

function Steps({ over: { steps, versionIds }, rows }: { over: RatingsOverTime; rows: readonly Standing[] }) {
  const shown = rows.filter(({ version }) => versionIds.includes(version.id));
  return (
    <div className="relative overflow-x-auto">
      <table className="figures w-full border-collapse text-[14px]">
        <thead>
          <tr className="border-b border-rule text-left text-[13px] text-soft">
            <Th>Ballots</Th>
            <Th>Until</Th>
            {shown.map((row) => (
              <Th key={row.version.id}>{nameOfCompetitor(row)}</Th>
            ))}
          </tr>
        </thead>
        <tbody>
          {steps.map(({ ballots, at, ratings }) => (
            <tr key={ballots} className="border-b border-rule">
              <th scope="row" className="py-1.5 pr-3 text-left font-normal">
                {ballots.toLocaleString("en")}
              </th>
              <Td>{formatExact(at)}</Td>
              {shown.map(({ version }) => (
                <Td key={version.id}>{formatRated(ratings[versionIds.indexOf(version.id)])}</Td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function formatRated(rated: RatingsOverTime["steps"][number]["ratings"][number] | undefined): string {
  if (rated?.rating == null) return "—";
  return `${Math.round(rated.rating)}${rated.halfWidth === null ? "" : ` ± ${Math.round(rated.halfWidth)}`}`;
}
