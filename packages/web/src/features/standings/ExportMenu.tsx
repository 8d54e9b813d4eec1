import type { WhatCounts } from "@tourney/core/contract";
import { writeCounts } from "@tourney/core/what-counts";
import { useState } from "react";
import { PopoverMenu } from "../../ui/PopoverMenu.js";
import { ReportSection } from "./ReportSection.js";

const LINK =
  "inline-flex h-6 items-center whitespace-nowrap rounded border border-rule bg-ground px-2.5 text-[13px] text-ink no-underline hover:border-ink";

/** The report, and ballots and standings as files, of what the screen counts. */
export function ExportMenu({ editionId, counts }: { editionId: string; counts: WhatCounts }) {
  const [withNames, setWithNames] = useState(false);
  const [withAll, setWithAll] = useState(false);
  const addressOf = (file: string, flags: Record<string, string> = {}) => {
    const query = new URLSearchParams([...writeCounts(counts), ...Object.entries(flags)]).toString();
    return `/api/editions/${editionId}/exports/${file}${query === "" ? "" : `?${query}`}`;
  };
  const flags = { ...(withNames ? { names: "1" } : {}), ...(withAll ? { all: "1" } : {}) };
  return (
    <PopoverMenu name="Report and exports" label="Report and exports" align="end" className="w-80">
      <ReportSection {...{ editionId, counts }} />
      <section aria-labelledby="export-ballots" className="grid gap-2">
        <h2 id="export-ballots" className="m-0 text-[15px] leading-5">
          Ballots
        </h2>
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={withNames} onChange={(event) => setWithNames(event.target.checked)} />
          Voters' names beside their pseudonyms
        </label>
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={withAll} onChange={(event) => setWithAll(event.target.checked)} />
          Also those that do not count, each with why
        </label>
        <span className="flex gap-2">
          <a className={LINK} download aria-label="Ballots as CSV" href={addressOf("ballots.csv", flags)}>
            CSV
          </a>
          <a className={LINK} download aria-label="Ballots as JSONL" href={addressOf("ballots.jsonl", flags)}>
            JSONL
          </a>
        </span>
        <p className="m-0 text-soft">
          <code className="font-mono text-[12px]">./tourney rate FILE</code> comes to these standings from them.
        </p>
      </section>
      <section aria-labelledby="export-standings" className="grid gap-2">
        <h2 id="export-standings" className="m-0 text-[15px] leading-5">
          Standings
        </h2>
        <span className="flex gap-2">
          <a className={LINK} download aria-label="Standings as CSV" href={addressOf("standings.csv")}>
            CSV
          </a>
          <a className={LINK} download aria-label="Standings as JSON" href={addressOf("standings.json")}>
            JSON
          </a>
        </span>
      </section>
      <section aria-labelledby="export-bundle" className="grid gap-2">
        <h2 id="export-bundle" className="m-0 text-[15px] leading-5">
          Everything
        </h2>
        <p className="m-0 text-soft">
          Answers and artifacts as files by prompt and entrant; all brings suite, entrants, ballots, recordings and
          standings, too. <code className="font-mono text-[12px]">./tourney import FILE</code> takes it in elsewhere.
        </p>
        <span className="flex gap-2">
          <a className={LINK} download href={`/api/editions/${editionId}/exports/bundle.zip?content=entries`}>
            Entries (zip)
          </a>
          <a
            className={LINK}
            download
            href={`/api/editions/${editionId}/exports/bundle.zip?${new URLSearchParams({ content: "all", ...(withNames ? { names: "1" } : {}) }).toString()}`}
          >
            All (zip)
          </a>
        </span>
      </section>
    </PopoverMenu>
  );
}
