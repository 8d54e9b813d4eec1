import type { Edition, Panel, VoterReliability } from "@tourney/core/contract";
import { useState } from "react";
import { EditionLink } from "../../api/edition-links.js";
import { useGetStoppingQuery } from "../../api/stopping-api.js";
import { useListPanelsQuery } from "../../api/ongoing-api.js";
import { useEdition, useGetEditionQuery } from "../../api/use-edition.js";
import { useFollow } from "../../api/use-follow.js";
import { BROKEN_WORDS, CONTEST_WORDS, describePlan, describeProgress } from "@tourney/core/conclusions";
import { copyText } from "../../lib/copy-text.js";
import { count, formatExact } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { NoSuiteNotice } from "../../ui/NoSuiteNotice.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { BallotTable } from "./BallotTable.js";
import { InviteSheet } from "./InviteSheet.js";
import { PanelForm } from "./PanelForm.js";
import { VoterTable } from "./VoterTable.js";
import { ReportSections } from "./VotingReport.js";
import { useGetVotingReportQuery, useSetInvitationMutation } from "./voting-api.js";

/** Panels: who was invited, how far they are, and the link to invite more. */
export function VotingScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the panels" />;
  if (edition === null) {
    return <NoSuiteNotice title="Nothing to vote on yet">A panel votes on the entries of one edition.</NoSuiteNotice>;
  }
  return <Panels editionId={edition.id} />;
}

function Panels({ editionId }: { editionId: string }) {
  const { currentData: panels, error, refetch } = useListPanelsQuery(editionId);
  useFollow(refetch, { about: ["cells", "ballots"], everyMs: 1500 });
  const { data: report, error: reportError, refetch: refetchReport } = useGetVotingReportQuery(editionId);
  useFollow(refetchReport, { about: ["ballots"], everyMs: 10_000 });
  const { data: edition } = useGetEditionQuery(editionId);
  const [isAdding, setIsAdding] = useState(false);
  if (panels === undefined || edition === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the panels" />;
  // Ballots of another edition's panels count here as well, where the two share wordings.
  const hasBallots = report !== undefined && report.promptsWithout.length < edition.prompts.length;
  const ballots =
    report && (panels.length > 0 || hasBallots) ? (
      <BallotTable {...{ editionId, panels }} entrants={report.entrants} prompts={edition.prompts} />
    ) : null;
  const add = (
    <Button tone="primary" onClick={() => setIsAdding(true)}>
      Invite a panel
    </Button>
  );
  return (
    <main>
      {panels.length === 0 ? (
        <>
          <EmptyNotice title={hasBallots ? "No panel of this edition yet" : "No panel yet"} action={add}>
            A panel is a group of voters with a number of bouts each. They see two outputs of one prompt side by side,
            without names, and say which is better.
          </EmptyNotice>
          {ballots ? <div className="max-w-[1280px] px-4 pb-5">{ballots}</div> : null}
        </>
      ) : (
        <>
          <div className="flex items-center justify-between border-b border-rule px-4 py-2.5">
            <h1 className="m-0 text-[18px] leading-6">{count(panels.length, "panel")}</h1>
            {add}
          </div>
          <Plan editionId={editionId} />
          <div className="grid max-w-[1280px] grid-cols-1 gap-10 px-4 py-5">
            {panels.map((panel) => (
              <PanelSection key={panel.id} {...{ panel, edition }} reliability={report?.voters ?? []} />
            ))}
            {reportError ? <ErrorNotice error={reportError} /> : null}
            {report ? <ReportSections {...{ report, panels, editionId }} /> : null}
            {ballots}
          </div>
        </>
      )}
      <PanelForm edition={edition} open={isAdding} onOpenChange={setIsAdding} />
    </main>
  );
}

/** Whom to invite depends on whether the plan by which voting ends is met. */
function Plan({ editionId }: { editionId: string }) {
  const { currentData: state, refetch } = useGetStoppingQuery(editionId);
  useFollow(refetch, { about: ["ballots"], everyMs: 10_000 });
  if (!state?.plan) return null;
  return (
    <p className="m-0 border-b border-rule px-4 py-2">
      <EditionLink to="/standings" className="font-semibold">
        Stopping plan
      </EditionLink>{" "}
      <span className={state.isOver ? "" : "text-soft"}>
        {describePlan(state.plan)} {describeProgress(state)}
        {state.isOver ? " Close the invitations, so that nobody votes for nothing." : ""}
      </span>
    </p>
  );
}

interface PanelSectionProps {
  panel: Panel;
  edition: Edition;
  reliability: readonly VoterReliability[];
}

function PanelSection({ panel, edition, reliability }: PanelSectionProps) {
  const [sheet, setSheet] = useState<"change" | "invite" | null>(null);
  const [setInvitation, setting] = useSetInvitationMutation();
  return (
    <section aria-labelledby={panel.id} className="min-w-0">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 id={panel.id} className="m-0 text-[22px] leading-7">
          {panel.title}
        </h2>
        <p className="figures m-0 text-soft">
          {count(panel.ballots, "ballot")} · {count(panel.voters.length, "voter")} · {panel.quota} each
          {panel.sample ? <span className="text-care-ink"> · sample data</span> : null}
        </p>
        <span className="ml-auto flex gap-2">
          <Button compact onClick={() => setSheet("change")}>
            Change …
          </Button>
          <Button compact onClick={() => setSheet("invite")}>
            Personal links …
          </Button>
        </span>
      </div>
      {panel.message ? <p className="m-0 mt-1">“{panel.message}”</p> : null}
      <p className="m-0 mt-1 text-[13px] text-soft">{describeRules(panel, edition)}</p>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <code
          className={`min-w-0 flex-1 truncate rounded border max-[640px]:basis-full border-rule bg-sheet px-2.5 py-1.5 font-mono text-[12px] ${panel.linkOpen ? "" : "text-soft line-through"}`}
        >
          {panel.url}
        </code>
        <Button disabled={!panel.linkOpen} onClick={() => copyText(panel.url, "The invitation")}>
          Copy invitation
        </Button>
        <Button
          disabled={setting.isLoading}
          title="Voters who have begun go on either way"
          onClick={() => void setInvitation({ panelId: panel.id, open: !panel.linkOpen })}
        >
          {panel.linkOpen ? "Close it" : "Open it again"}
        </Button>
        <a
          href={panel.url}
          target="_blank"
          rel="noreferrer"
          className="inline-flex h-8 items-center rounded border border-rule bg-sheet px-3 text-ink no-underline hover:border-ink"
        >
          Open the booth
        </a>
      </div>
      {panel.joinsRefused > 0 ? (
        <p className="m-0 mt-1 text-[13px] text-care-ink">
          ◆ {count(panel.joinsRefused, "time")} somebody was refused by the open link, because as many as may had come
          from their network. Who should vote from there needs a personal link.
        </p>
      ) : null}
      {setting.error ? <ErrorNotice error={setting.error} /> : null}
      <div className="relative overflow-x-auto">
        <VoterTable panel={panel} reliability={reliability} />
      </div>
      {sheet === "change" ? (
        <PanelForm {...{ edition, panel }} open onOpenChange={() => setSheet(null)} />
      ) : sheet === "invite" ? (
        <InviteSheet panel={panel} open onOpenChange={() => setSheet(null)} />
      ) : null}
    </section>
  );
}

function describeRules(
  { promptIds, entrantIds, closesAt, brokenRule, asksReasons, contest, step }: Panel,
  { prompts }: Edition,
): string {
  const parts = [
    ...(contest === "entrants" ? [] : [`On ${CONTEST_WORDS[contest]}, kept out of the ratings`]),
    ...(contest === "mended" || contest === "rounds" ? [`after ${count(step, "mend")} at most`] : []),
    ...(contest === "turn_pages" ? [`turn ${step}`] : []),
    promptIds === null ? `All ${prompts.length} prompts` : `${promptIds.length} of ${prompts.length} prompts`,
    entrantIds === null ? "all entrants" : count(entrantIds.length, "entrant"),
    closesAt === null
      ? "open until closed"
      : Date.parse(closesAt) <= Date.now()
        ? `closed ${formatExact(closesAt)}`
        : `closes ${formatExact(closesAt)}`,
    `blank and crashed entries ${BROKEN_WORDS[brokenRule]}`,
    ...(asksReasons ? [] : ["reasons are not asked for"]),
  ];
  return parts.join(" · ");
}
