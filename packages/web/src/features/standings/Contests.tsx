import { describeForms, describePlacement, formatRanks, nameOfCompetitor } from "@tourney/core/conclusions";
import {
  type ContestResults,
  EVERYTHING,
  type FormContest,
  type FormTally,
  type PagesContest,
  type Placement,
  type Prompt,
  type Standings,
  type TakesContest,
} from "@tourney/core/contract";
import { describePages } from "@tourney/core/what-counts";
import type { ReactNode } from "react";
import { ballotsPath } from "../../api/ballots-path.js";
import { EditionLink } from "../../api/edition-links.js";
import { useGetEditionQuery } from "../../api/use-edition.js";
import { count, formatShare } from "../../lib/format.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice } from "../../ui/notices.js";
import { useGetContestsQuery } from "./standings-api.js";
import { Td, Th } from "./table-cells.js";

type Rows = Standings["rows"];

/** What was asked beside the ratings: hints, takes, mends, turns, mended pages, and newcomers. */
export function Contests({ standings: { edition, rows } }: { standings: Standings }) {
  const { currentData: results, error } = useGetContestsQuery(edition.id);
  const { currentData: whole } = useGetEditionQuery(edition.id);
  if (error) return <ErrorNotice error={error} />;
  if (results === undefined || whole === undefined || isEmpty(results)) return null;
  return (
    <section aria-labelledby="contests-heading" className="mt-8">
      <h2 id="contests-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        Other contests <span className="text-[13px] font-normal text-soft">of panels of their own</span>
      </h2>
      <p className="mt-2 mb-0 text-[13px] text-soft">
        Nothing here goes into the ratings, but for the ballots that place a newcomer. Two pages that look the same to
        the pixel are not shown. Bars are 95 % intervals on these very prompts; what holds for prompts like these is
        said beside them.
      </p>
      {results.newcomers.map((placement) => (
        <Newcomer key={placement.versionId} {...{ placement, rows }} />
      ))}
      {results.forms.map((contest) => (
        <Forms key={contest.contest} {...{ contest, rows }} prompts={whole.prompts} />
      ))}
      {results.takes === null ? null : <Takes takes={results.takes} rows={rows} />}
      {results.pages.map((contest) => (
        <Pages key={contest.pages} {...{ contest, rows }} />
      ))}
    </section>
  );
}

const isEmpty = ({ forms, takes, pages, newcomers }: ContestResults) =>
  forms.length + pages.length + newcomers.length === 0 && takes === null;

function Part({ title, note, children }: { title: string; note: string; children: ReactNode }) {
  return (
    <div className="mt-4">
      <h3 className="m-0 text-[15px] leading-6">{title}</h3>
      <p className="m-0 text-[13px] text-soft">{note}</p>
      <div className="relative overflow-x-auto">{children}</div>
    </div>
  );
}

function Table({ heads, children }: { heads: readonly string[]; children: ReactNode }) {
  return (
    <table className="figures w-full max-w-[1100px] border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-rule text-left text-[13px] text-soft">
          {heads.map((head) => (
            <Th key={head}>{head}</Th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

/** A line that begins with an entrant, in the order of the standings. */
function Name({ rows, versionId }: { rows: Rows; versionId: string }) {
  const row = rows.find(({ version }) => version.id === versionId);
  return (
    <th scope="row" className="py-1.5 pr-3 text-left font-normal whitespace-nowrap">
      <span className="inline-flex items-center gap-1.5">
        {row ? <EntrantGlyph glyph={row.entrant.glyph} /> : null} {nameOfCompetitor(row)}
      </span>
    </th>
  );
}

const inOrder = <T extends { versionId: string }>(items: readonly T[], rows: Rows): T[] => {
  const placeOf = ({ versionId }: T) => rows.findIndex(({ version }) => version.id === versionId);
  return items.toSorted((a, b) => placeOf(a) - placeOf(b));
};

const FORM_TITLES: Record<FormContest["contest"], { title: string; note: string; better: string }> = {
  hints: {
    title: "What a hint is worth",
    note: "Each entrant’s page for a variant of a prompt against its own page for the prompt as it stands. Voters read neither text, only the task in one line.",
    better: "the variant",
  },
  rounds: {
    title: "What a mend is worth",
    note: "Each entrant’s mended page against its own first shot.",
    better: "the mended page",
  },
  turns: {
    title: "What a further turn is worth",
    note: "Each entrant’s page after a turn against its own page after the turn before.",
    better: "the later turn",
  },
};

function Forms({ contest, rows, prompts }: { contest: FormContest; rows: Rows; prompts: readonly Prompt[] }) {
  const { title, note, better } = FORM_TITLES[contest.contest];
  const tallies = [contest.all, ...contest.entrants, ...contest.prompts];
  const most = Math.max(1, ...tallies.map(({ points, halfWidthHere }) => Math.abs(points ?? 0) + (halfWidthHere ?? 0)));
  const cells = (tally: FormTally, path: string | null) => (
    <>
      <td className="w-64 py-1.5 pr-3">
        <Difference tally={tally} most={most} />
      </td>
      <Td>{describeForms(tally)}</Td>
      <Td>
        {tally.better} · {tally.even} · {tally.worse}
      </Td>
      <Td>{path === null ? tally.ballots : <EditionLink to={path}>{tally.ballots}</EditionLink>}</Td>
    </>
  );
  return (
    <Part title={title} note={note}>
      <Table heads={["", "Rating points", `Told by voters: ${better} is`, "Better · even · worse", "Ballots"]}>
        <tr className="border-b border-strong-rule font-semibold">
          <th scope="row" className="py-1.5 pr-3 text-left whitespace-nowrap">
            All entrants
          </th>
          {cells(contest.all, ballotsPath({ contest: contest.contest }))}
        </tr>
        {inOrder(contest.entrants, rows).map((own) => (
          <tr key={own.versionId} className="border-b border-rule">
            <Name {...{ rows }} versionId={own.versionId} />
            {cells(own, ballotsPath({ contest: contest.contest, ofId: own.versionId }))}
          </tr>
        ))}
        {contest.prompts.map((own) => (
          <tr key={`${own.promptId} ${own.form}`} className="border-b border-rule">
            <th scope="row" className="py-1.5 pr-3 text-left font-normal">
              {prompts.find(({ id }) => id === own.promptId)?.title ?? "A prompt of another edition"}{" "}
              <span className="text-soft">{nameForm(own.form, prompts)}</span>
            </th>
            {cells(own, null)}
          </tr>
        ))}
      </Table>
    </Part>
  );
}

/** A variant is named by what it words otherwise. */
function nameForm(form: string, prompts: readonly Prompt[]): string {
  const variant = prompts.find(({ key }) => form === `variant ${key}`);
  return variant?.variantOf?.change ?? form;
}

/** A difference with its interval on a line from worse to better. */
function Difference({ tally: { points, halfWidthHere }, most }: { tally: FormTally; most: number }) {
  if (points === null) return null;
  const toPercent = (value: number) => 50 + (50 * Math.max(-most, Math.min(most, value))) / most;
  const [from, to] = [toPercent(points - (halfWidthHere ?? 0)), toPercent(points + (halfWidthHere ?? 0))];
  return (
    <span aria-hidden="true" className="relative block h-4">
      <span className="absolute inset-y-0 left-1/2 w-px bg-strong-rule" />
      <span className="absolute top-1/2 h-px bg-ink" style={{ left: `${from}%`, width: `${to - from}%` }} />
      <span
        className="absolute top-1/2 size-2 -translate-x-1/2 -translate-y-1/2 rounded-full bg-ink"
        style={{ left: `${toPercent(points)}%` }}
      />
    </span>
  );
}

function Takes({ takes, rows }: { takes: TakesContest; rows: Rows }) {
  const { distance, distanceBetween, share } = takes;
  const notches = (value: number) => `${value.toFixed(2)} of 2 notches`;
  const luck =
    share === null
      ? "Which share of what tells entrants apart is luck of the draw cannot be said yet: that needs two voters on the same takes, on three prompts or more."
      : `Of what tells two entrants’ pages apart, ${formatShare(share.share)} is luck of the draw (${formatShare(share.low)} to ${formatShare(share.high)}, by prompts).`;
  return (
    <Part
      title="How far an entrant is from itself"
      note={`Two takes of one entrant are ${notches(distance)} from even for voters${distanceBetween === null ? "" : `, two entrants ${notches(distanceBetween)}`}. ${luck}`}
    >
      <Table heads={["Entrant", "Mean distance of its takes, 0 to 2", "Ballots", "Takes of later weeks are"]}>
        {inOrder(takes.entrants, rows).map((own) => (
          <tr key={own.versionId} className="border-b border-rule">
            <Name {...{ rows }} versionId={own.versionId} />
            <Td>{own.distance.toFixed(2)}</Td>
            <Td>
              <EditionLink to={ballotsPath({ contest: "takes", ofId: own.versionId })}>{own.ballots}</EditionLink>
            </Td>
            <Td>{describeDrift(takes.drift.find(({ versionId }) => versionId === own.versionId))}</Td>
          </tr>
        ))}
      </Table>
    </Part>
  );
}

/** A model may change under its name: its later takes against its earlier ones. */
const describeDrift = (drift: TakesContest["drift"][number] | undefined): string =>
  drift === undefined ? "not asked for" : `${describeForms(drift)} (${Math.round(drift.days)} days apart)`;

function Pages({ contest: { pages, ballots, rows: own }, rows }: { contest: PagesContest; rows: Rows }) {
  return (
    <Part
      title={`Ratings ${describePages(pages).toLowerCase()}`}
      note={`${pages.startsWith("mended") ? "Pages that need no mend stand as they are. " : ""}${count(ballots, "ballot")} of this contest alone: its points are not those of the ratings above.`}
    >
      <Table heads={["Ranks", "Entrant", "Rating", "Ranks of first shots", "Ballots"]}>
        {own.map((row) => (
          <tr key={row.versionId} className="border-b border-rule">
            <Td>{formatRanks(row.rankRange)}</Td>
            <Name {...{ rows }} versionId={row.versionId} />
            <Td>
              {Math.round(row.rating)}
              {row.halfWidth === null ? "" : ` ± ${Math.round(row.halfWidth)}`}
            </Td>
            <Td>{formatRanks(rows.find(({ version }) => version.id === row.versionId)?.rankRange ?? null)}</Td>
            <Td>
              <EditionLink to={ballotsPath({ ofId: row.versionId }, { ...EVERYTHING, pages })}>
                {row.ballots}
              </EditionLink>
            </Td>
          </tr>
        ))}
      </Table>
    </Part>
  );
}

function Newcomer({ placement, rows }: { placement: Placement; rows: Rows }) {
  const name = nameOfCompetitor(rows.find(({ version }) => version.id === placement.versionId));
  return (
    <Part title={`Placing ${name}`} note={describePlacement(placement)}>
      {placement.steps.length === 0 ? null : (
        <Table heads={["After its ballots", "Possible ranks", "Rating"]}>
          {placement.steps.map(({ ballots, rankRange, rating, halfWidth }) => (
            <tr key={ballots} className="border-b border-rule">
              <Td>{ballots}</Td>
              <Td>{formatRanks(rankRange)}</Td>
              <Td>
                {rating === null ? "—" : Math.round(rating)}
                {halfWidth === null ? "" : ` ± ${Math.round(halfWidth)}`}
              </Td>
            </tr>
          ))}
        </Table>
      )}
    </Part>
  );
}
