import type { AuditLine, Kind, Panel, Reason, VotingReport } from "@tourney/core/contract";
import { type ReactNode, useState } from "react";
import { EditionLink } from "../../api/edition-links.js";
import { count, formatAgo, formatExact } from "../../lib/format.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { REASON_WORDS } from "../../lib/reason-words.js";
import { useListAuditQuery } from "./voting-api.js";

/** What the ballots of all panels have come to so far: pace, gaps, disputes, reasons, and who did what. */
export function ReportSections({
  report,
  panels,
  editionId,
}: {
  report: VotingReport;
  panels: readonly Panel[];
  editionId: string;
}) {
  return (
    <div className="grid grid-cols-2 gap-x-10 gap-y-8 max-[1000px]:grid-cols-1">
      <Pace report={report} panels={panels} />
      <Gaps report={report} />
      <Disputes report={report} />
      <Reasons report={report} />
      <AuditTrail editionId={editionId} />
    </div>
  );
}

function Section({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="min-w-0">
      <h2 className="m-0 border-b border-strong-rule pb-1 text-[16px] leading-6">
        {title} {note === undefined ? null : <span className="figures text-[13px] font-normal text-soft">{note}</span>}
      </h2>
      <div className="mt-2">{children}</div>
    </section>
  );
}

function Name({ report, id }: { report: VotingReport; id: string }) {
  const entrant = report.entrants.find((one) => one.id === id);
  return entrant ? (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <EntrantGlyph glyph={entrant.glyph} size={11} /> {entrant.name}
    </span>
  ) : (
    <>?</>
  );
}

function Pace({
  report: { hours, ballotsLastHour, skips },
  panels,
}: {
  report: VotingReport;
  panels: readonly Panel[];
}) {
  const most = Math.max(1, ...hours.map(({ ballots }) => ballots));
  const wanted = panels.reduce((sum, panel) => sum + panel.quota * panel.voters.length, 0);
  const cast = panels.reduce((sum, panel) => sum + panel.ballots, 0);
  return (
    <Section title="Pace" note={`${cast} of ${wanted} ballots that the voters so far would cast`}>
      <p className="figures m-0">{count(ballotsLastHour, "ballot")} in the last hour</p>
      {hours.length === 0 ? (
        <p className="m-0 mt-1 text-soft">None in the last day.</p>
      ) : (
        <ul className="m-0 mt-2 grid list-none gap-1 p-0">
          {hours.map(({ at, ballots }) => (
            <li key={at} className="figures flex items-center gap-3 text-[13px]">
              <time dateTime={at} className="w-16 whitespace-nowrap text-soft">
                {new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}
              </time>
              <span className="block h-2 bg-ink" style={{ width: `${(ballots / most) * 60}%` }} />
              {ballots}
            </li>
          ))}
        </ul>
      )}
      {skips.length === 0 ? null : (
        <p className="m-0 mt-2 text-soft">
          Passed over: {skips.map(({ reason, count: times }) => `${reason} ${times}×`).join(", ")}
        </p>
      )}
    </Section>
  );
}

function Gaps({ report }: { report: VotingReport }) {
  const { thinPairs, promptsWithout } = report;
  return (
    <Section title="Thin pairs" note="the fewest ballots">
      {thinPairs.length === 0 ? (
        <p className="m-0 text-soft">Two entrants with entries are needed for a pair.</p>
      ) : (
        <ul className="m-0 grid list-none gap-1 p-0">
          {thinPairs.map(({ firstId, secondId, ballots }) => (
            <li key={`${firstId}${secondId}`} className="flex items-center gap-2">
              <Name report={report} id={firstId} /> <span className="text-soft">and</span>
              <Name report={report} id={secondId} />
              <span className="figures ml-auto">{count(ballots, "ballot")}</span>
            </li>
          ))}
        </ul>
      )}
      <p className="m-0 mt-3">
        {promptsWithout.length === 0 ? (
          <span className="text-soft">Every prompt has ballots.</span>
        ) : (
          <>
            <span className="text-care-ink">◆ No ballot counts for</span>{" "}
            {promptsWithout.map(({ title }) => title).join(", ")}
          </>
        )}
      </p>
    </Section>
  );
}

/** Leans of several voters on one line from left to right, a dot each. */
function LeanDots({ leans }: { leans: readonly number[] }) {
  const text = leans.map((lean) => ["first by far", "first", "even", "second", "second by far"][lean + 2]).join(", ");
  return (
    <svg viewBox="0 0 104 14" width="104" height="14" role="img" aria-label={text} className="shrink-0">
      <line x1="4" y1="10" x2="100" y2="10" className="stroke-rule" />
      {[-2, -1, 0, 1, 2].map((notch) => {
        const times = leans.filter((lean) => lean === notch).length;
        return times === 0 ? null : (
          <circle key={notch} cx={52 + notch * 24} cy="9" r={2.5 + Math.min(2.5, times - 1)} className="fill-ink" />
        );
      })}
    </svg>
  );
}

function Disputes({ report }: { report: VotingReport }) {
  return (
    <Section title="Disputes" note="bouts on which voters lean both ways">
      {report.disputes.length === 0 ? (
        <p className="m-0 text-soft">Nobody contradicts anybody yet.</p>
      ) : (
        <ul className="m-0 grid list-none gap-2 p-0">
          {report.disputes.map((dispute) => (
            <li key={`${dispute.firstEntryId}${dispute.secondEntryId}`} className="grid grid-cols-[1fr_auto] gap-x-3">
              <span>
                {dispute.promptTitle}
                <span className="flex flex-wrap items-center gap-x-2 text-[13px]">
                  <EditionLink to={`/entries/${dispute.firstEntryId}`}>
                    <Name report={report} id={dispute.firstEntrantId} />
                  </EditionLink>
                  <span className="text-soft">and</span>
                  <EditionLink to={`/entries/${dispute.secondEntryId}`}>
                    <Name report={report} id={dispute.secondEntrantId} />
                  </EditionLink>
                  <EditionLink to={`/compare?entries=${dispute.firstEntryId},${dispute.secondEntryId}`}>
                    compare
                  </EditionLink>
                </span>
              </span>
              <LeanDots leans={dispute.leans} />
            </li>
          ))}
        </ul>
      )}
    </Section>
  );
}

function Reasons({ report }: { report: VotingReport }) {
  const kinds = [...new Set(report.reasons.map(({ kind }) => kind))].toSorted();
  const [kind, setKind] = useState<Kind | null>(null);
  const shown = report.reasons.filter((row) => kind === null || row.kind === kind);
  const reasons = [...new Set(shown.map(({ reason }) => reason))].toSorted();
  const sum = (entrantId: string, reason: Reason, field: "preferred" | "other") =>
    shown
      .filter((row) => row.entrantId === entrantId && row.reason === reason)
      .reduce((total, row) => total + row[field], 0);
  if (report.reasons.length === 0)
    return (
      <Section title="Reasons">
        <p className="m-0 text-soft">No ballot gives one yet.</p>
      </Section>
    );
  return (
    <Section title="Reasons" note="given where an entrant was preferred, and where it was not">
      <label className="text-[13px] text-soft">
        Kind{" "}
        <select
          value={kind ?? ""}
          onChange={(event) => setKind(event.target.value === "" ? null : (event.target.value as Kind))}
          className="rounded border border-rule bg-sheet px-1 text-ink"
        >
          <option value="">all</option>
          {kinds.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      <div className="relative overflow-x-auto">
        <table className="figures mt-1 w-full border-collapse text-[13px]">
          <thead>
            <tr className="border-b border-rule text-soft">
              <th className="py-1 text-left font-medium">Entrant</th>
              {reasons.map((reason) => (
                <th key={reason} className="py-1 pl-3 text-right font-medium">
                  {REASON_WORDS[reason]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {report.entrants.map(({ id }) => (
              <tr key={id} className="border-b border-rule">
                <th scope="row" className="py-1 text-left font-normal">
                  <Name report={report} id={id} />
                </th>
                {reasons.map((reason) => (
                  <td key={reason} className="py-1 pl-3 text-right whitespace-nowrap">
                    {sum(id, reason, "preferred")} <span className="text-soft">/ {sum(id, reason, "other")}</span>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Section>
  );
}

function AuditTrail({ editionId }: { editionId: string }) {
  const { data = [] } = useListAuditQuery(editionId);
  const [nowMs] = useState(() => Date.now());
  const about = ({ panelTitle, voterName, detail }: AuditLine) =>
    [voterName, panelTitle, typeof detail["why"] === "string" ? `“${detail["why"]}”` : null]
      .filter((part) => part !== null && part !== "")
      .join(" · ");
  return (
    <Section title="Audit trail" note="newest first">
      {data.length === 0 ? (
        <p className="m-0 text-soft">Nothing was changed yet.</p>
      ) : (
        <ul className="m-0 grid max-h-72 list-none gap-1 overflow-auto p-0">
          {data.map((line) => (
            <li key={line.id} className="flex gap-3 text-[13px]">
              <time dateTime={line.at} title={formatExact(line.at)} className="w-24 shrink-0 text-soft">
                {formatAgo(line.at, nowMs)}
              </time>
              <span>
                {line.actor} {line.action} <span className="text-soft">{about(line)}</span>
              </span>
            </li>
          ))}
        </ul>
      )}
    </Section>
  );
}
