import { EVERYTHING, type PromptRatings, type Standings, type WhatCounts } from "@tourney/core/contract";
import { COUNTS_PARAMETERS, describeCounts, isEverything, readCounts, writeCounts } from "@tourney/core/what-counts";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { useGetPromptRatingsQuery } from "../../api/ratings-api.js";
import { useEdition } from "../../api/use-edition.js";
import { count, formatAgo, formatDay, formatExact } from "../../lib/format.js";
import { BROKEN_WORDS, UNDELIVERED_WORDS } from "@tourney/core/conclusions";
import { useNow } from "../../lib/use-now.js";
import { Button } from "../../ui/controls.js";
import { NoSuiteNotice } from "../../ui/NoSuiteNotice.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { BallotsLink } from "./BallotsLink.js";
import { ByPrice } from "./ByPrice.js";
import { ByPrompt } from "./ByPrompt.js";
import { BySeeing } from "./BySeeing.js";
import { Contests } from "./Contests.js";
import { CountsBar } from "./counting/CountsBar.js";
import { type Counted, useCounted } from "./counting/use-counted.js";
import { Views } from "./counting/Views.js";
import { ExportMenu } from "./ExportMenu.js";
import { HeadToHead } from "./HeadToHead.js";
import { Mends } from "./Mends.js";
import { Settling } from "./Settling.js";
import { Since } from "./Since.js";
import { SheetTallies } from "./SheetTallies.js";
import { StoppingPlan } from "./StoppingPlan.js";
import { Succession } from "./Succession.js";
import { OverTime } from "./OverTime.js";
import { Rail } from "./Rail.js";
import { useGetStandingsQuery } from "./standings-api.js";

/** The standings: the rail with its intervals and brackets, then what follows from the ballots. */
export function StandingsScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the standings" />;
  if (edition === null) {
    return (
      <NoSuiteNotice title="No standings yet">Ratings come from ballots on the entries of an edition.</NoSuiteNotice>
    );
  }
  return <EditionStandings editionId={edition.id} />;
}

function EditionStandings({ editionId }: { editionId: string }) {
  const [search, setSearch] = useSearchParams();
  const counts = readCounts(search);
  const isAll = isEverything(counts);
  const [isMenuOpen, setMenuOpen] = useState(false);
  const all = useGetStandingsQuery(editionId, { refetchOnMountOrArgChange: true });
  const ratingsOfAll = useGetPromptRatingsQuery(editionId);
  const moved = all.currentData?.countedAt;
  // Not before it is known how far the ballots are: they would be fetched twice.
  const isWanted = (!isAll || isMenuOpen) && !all.isLoading;
  const counted = useCounted(editionId, counts, { isWanted, moved });
  const standings = isAll ? all.currentData : counted.standings;
  const ratings = isAll ? ratingsOfAll.currentData : counted.ratings;
  const error = isAll ? all.error : counted.error;
  const choose = (next: WhatCounts) =>
    setSearch(
      (now) => {
        const kept = [...now].filter(([name]) => !COUNTS_PARAMETERS.includes(name));
        return new URLSearchParams([...kept, ...writeCounts(next)]);
      },
      // At once: a box that is ticked must not seem unticked until the standings are drawn.
      { replace: true, flushSync: true },
    );
  return (
    <main>
      <h1 className="sr-only">Standings</h1>
      <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-4 py-2.5">
        <CountsBar
          {...{ counts, choices: counted.choices, onChoose: choose, onWant: () => setMenuOpen(true) }}
          formerVersions={all.currentData?.formerVersions ?? 0}
        />
        <div className="ml-auto flex flex-wrap items-center justify-end gap-1.5">
          {standings ? <CountedWords standings={standings} /> : null}
          <Views {...{ editionId, counts }} hasBallots={standings !== undefined && standings.ballots > 0} />
          {standings && standings.ballots > 0 ? <ExportMenu {...{ editionId, counts }} /> : null}
        </div>
      </div>
      {isAll ? null : <Choice {...{ counts, counted, onAll: () => choose(EVERYTHING) }} />}
      <Since editionId={editionId} />
      {error ? <ErrorNotice error={error} {...(isAll ? { onRetry: () => void all.refetch() } : {})} /> : null}
      {standings === undefined ? (
        error ? null : (
          <Loading what="the standings" />
        )
      ) : standings.ballots === 0 ? (
        <NoBallots isChosen={!isAll} />
      ) : (
        <Ready standings={standings} ratings={ratings} />
      )}
      {standings === undefined ? null : (
        <div className="px-4 pb-5">
          <Contests standings={standings} />
        </div>
      )}
    </main>
  );
}

/** What counts where not everything does, in a sentence over the figures. */
function Choice({ counts, counted, onAll }: { counts: WhatCounts; counted: Counted; onAll: () => void }) {
  const { choices, isCounting } = counted;
  const words = choices === undefined ? "Fetching the ballots …" : describeCounts(counts, choices);
  return (
    <p role="status" className="m-0 flex flex-wrap items-center gap-3 border-b border-rule bg-sheet px-4 py-1.5">
      <span>{words}</span>
      {choices === undefined || !isCounting ? null : <span className="text-soft">counting …</span>}
      <Button compact className="ml-auto" onClick={onAll}>
        Count all again
      </Button>
    </p>
  );
}

function CountedWords({
  standings: { ballots, sampleBallots, voters, prompts, setAside, countedAt, methodVersion },
}: {
  standings: Standings;
}) {
  const nowMs = useNow(COUNTED_AGAIN_MS);
  return (
    <p className="figures m-0 text-soft">
      <BallotsLink title="All of them, one by one">{count(ballots, "ballot")}</BallotsLink>
      {sampleBallots > 0 ? (
        <span className="text-care-ink"> ({sampleBallots === ballots ? "all" : sampleBallots} sample data)</span>
      ) : null}{" "}
      · {count(voters, "voter")} · {count(prompts, "prompt")}
      {setAside > 0 ? (
        <>
          {" "}
          ·{" "}
          <EditionLink
            to="/voting?ballots=set+aside#ballots"
            title="Ballots on takes that were redone, or on answers by another model than was asked for"
          >
            {setAside} set aside
          </EditionLink>
        </>
      ) : null}{" "}
      ·{" "}
      <time dateTime={countedAt} title={`${formatExact(countedAt)}, ${methodVersion}`}>
        counted {formatAgo(countedAt, nowMs)}
      </time>
    </p>
  );
}

/** How often the words for when ballots were counted are looked at again. */
const COUNTED_AGAIN_MS = 10_000;

/** Which panels the ballots come from, when they were cast, and how those panels treat what shows nothing. */
function Sources({ sources }: { sources: Standings["sources"] }) {
  if (sources.length === 0) return null;
  return (
    <section aria-labelledby="sources-heading" className="mt-8">
      <h2 id="sources-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        Where the ballots come from
      </h2>
      <table className="w-full border-collapse">
        <tbody>
          {sources.map(({ panelId, title, edition, ballots, unseen, firstAt, lastAt, brokenRule, undeliveredRule }) => (
            <tr key={panelId} className="border-b border-rule align-top">
              <th scope="row" className="py-1.5 pr-4 text-left font-semibold">
                {title} <span className="font-normal text-soft">edition {edition}</span>
              </th>
              <td className="figures py-1.5 pr-4 whitespace-nowrap">
                <BallotsLink of={{ panelId }}>{count(ballots, "ballot")}</BallotsLink>
                {unseen > 0 ? <span className="text-soft">, {unseen} unseen</span> : null}
              </td>
              <td className="figures py-1.5 pr-4 whitespace-nowrap text-soft">
                <span title={formatExact(firstAt)}>{formatDay(firstAt)}</span> –{" "}
                <span title={formatExact(lastAt)}>{formatDay(lastAt)}</span>
              </td>
              <td className="py-1.5 text-soft">
                blank and crashed entries {BROKEN_WORDS[brokenRule]}; what was not delivered{" "}
                {UNDELIVERED_WORDS[undeliveredRule]}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function NoBallots({ isChosen }: { isChosen: boolean }) {
  return (
    <EmptyNotice
      title={isChosen ? "No such ballots" : "No ballots yet"}
      action={<EditionLink to="/voting">Go to Voting</EditionLink>}
    >
      {isChosen
        ? "No ballot is left by what is chosen to count. Choose less, or count all again."
        : "Ratings need people's ballots. Invite a panel, and the standings move with every one that is cast."}
    </EmptyNotice>
  );
}

function Ready({ standings, ratings }: { standings: Standings; ratings: PromptRatings | undefined }) {
  const { side, prompts, voters, components } = standings;
  return (
    <div className="px-4 py-3">
      <Rail standings={standings} />
      <p className="mt-2 mb-0 text-[13px] text-soft">
        Bars are 95 % intervals for prompts and people like these, not only for{" "}
        {prompts === 1 ? "this one prompt" : `these ${prompts} prompts`} and{" "}
        {voters === 1 ? "this one voter" : `${voters} voters`}. Entrants in one bracket cannot be told apart yet; ranks
        and brackets hold for all pairs at once, so two bars may part before a bracket does.
        {Math.min(prompts, voters) < 2
          ? " An interval needs ballots of at least two voters on at least two prompts."
          : ""}
        {components > 1
          ? ` There are ${components} groups that never met: ratings are comparable only inside a group.`
          : ""}
      </p>
      <div className="mt-6 grid grid-cols-[minmax(0,7fr)_minmax(0,4fr)] gap-10 max-[900px]:grid-cols-1">
        <HeadToHead standings={standings} ratings={ratings} />
        <Reading standings={standings} side={side} />
      </div>
      <ByPrice standings={standings} />
      <ByPrompt editionId={standings.edition.id} rows={standings.rows} ratings={ratings} />
      <OverTime standings={standings} />
      <Mends {...{ standings }} />
      <SheetTallies editionId={standings.edition.id} rows={standings.rows} />
      <BySeeing standings={standings} />
      <Sources sources={standings.sources} />
    </div>
  );
}

const formatPoints = (points: number) => {
  const whole = Math.round(points);
  return `${whole > 0 ? "+" : whole < 0 ? "−" : ""}${Math.abs(whole)} ${Math.abs(whole) === 1 ? "point" : "points"}`;
};

/** What the figures say, in words, and what would help. */
function Reading({
  standings: { edition, ballots, rows, voters, prompts, forecasts, succession },
  side,
}: {
  standings: Standings;
  side: Standings["side"];
}) {
  const first = rows[0]!;
  const ties = rows.filter(({ rankRange }) => rankRange?.[0] === 1).length;
  const rarer = prompts <= voters ? "prompts" : "voters";
  return (
    <section aria-labelledby="reading-heading">
      <h2 id="reading-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        How sure
      </h2>
      <dl className="m-0">
        <div className="border-b border-rule py-2">
          <dt className="font-semibold">{ties <= 1 ? `${first.entrant.name} leads` : `${ties} could be first`}</dt>
          <dd className="m-0 text-soft">
            {ties <= 1
              ? "No other entrant's rank range reaches 1."
              : `${first.entrant.name} has the highest rating, but the ballots do not rule the others out.`}
          </dd>
        </div>
        {forecasts.length > 0 ? null : (
          <div className="border-b border-rule py-2">
            <dt className="font-semibold">More {rarer} would help most</dt>
            <dd className="m-0 text-soft">
              Intervals rest on {count(Math.min(prompts, voters), rarer.slice(0, -1))}: ballots of one voter or on one
              prompt go together, so more of the same add little.
            </dd>
          </div>
        )}
        {side ? (
          <div className="border-b border-rule py-2">
            <dt className="font-semibold">The left place is worth {formatPoints(side.points)}</dt>
            <dd className="m-0 text-soft">
              ± {Math.round(side.halfWidth)}, by the model alone. Sides are shuffled and this is taken out of the
              ratings.
            </dd>
          </div>
        ) : null}
      </dl>
      <Succession succession={succession} rows={rows} />
      <StoppingPlan editionId={edition.id} ballots={ballots} />
      <Settling forecasts={forecasts} rows={rows} />
      <EditionLink
        to="/voting"
        className="mt-4 inline-flex h-8 items-center rounded border border-act bg-act px-3 font-semibold text-on-act no-underline hover:bg-act-hover"
      >
        Invite voters
      </EditionLink>
    </section>
  );
}
