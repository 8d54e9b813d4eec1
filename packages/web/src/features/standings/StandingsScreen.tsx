import { type Forecast, Kind, type Standing, type Standings } from "@tourney/core/contract";
import { Link, useSearchParams } from "react-router";
import { useEdition } from "../../api/use-edition.js";
import { count, formatAgo, formatExact } from "../../lib/format.js";
import { BROKEN_WORDS } from "../../lib/broken-words.js";
import { Toggle } from "../../ui/controls.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { HeadToHead } from "./HeadToHead.js";
import { Rail } from "./Rail.js";
import { useGetStandingsQuery } from "./standings-api.js";

const KIND_LABELS: Record<Kind, string> = { game: "Games", animation: "Animations", drawing: "Drawings", app: "Apps" };

/** The standings: the rail with its intervals and brackets, then what follows from the ballots. */
export function StandingsScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the standings" />;
  if (edition === null) {
    return (
      <EmptyNotice title="No standings yet" action={<Link to="/suite">Go to Suite</Link>}>
        Ratings come from ballots on the entries of an edition. Import a suite first.
      </EmptyNotice>
    );
  }
  return <EditionStandings editionId={edition.id} />;
}

function EditionStandings({ editionId }: { editionId: string }) {
  const [search, setSearch] = useSearchParams();
  const kind = Kind.safeParse(search.get("kind")).data;
  const {
    currentData: standings,
    error,
    refetch,
  } = useGetStandingsQuery({ editionId, kind }, { refetchOnMountOrArgChange: true });
  const choose = (next: Kind | null) =>
    setSearch((now) => {
      const params = new URLSearchParams(now);
      if (next === null) params.delete("kind");
      else params.set("kind", next);
      return params;
    });
  return (
    <main>
      <h1 className="sr-only">Standings</h1>
      <div className="flex items-center gap-1.5 border-b border-rule px-4 py-2.5">
        <Toggle pressed={kind === undefined} onClick={() => choose(null)}>
          All kinds
        </Toggle>
        {Kind.options.map((option) => (
          <Toggle key={option} pressed={kind === option} onClick={() => choose(option)}>
            {KIND_LABELS[option]}
          </Toggle>
        ))}
        {standings ? <Counted standings={standings} /> : null}
      </div>
      {error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : null}
      {standings === undefined ? (
        error ? null : (
          <Loading what="the standings" />
        )
      ) : standings.ballots === 0 ? (
        <NoBallots isFiltered={kind !== undefined} />
      ) : (
        <Ready standings={standings} />
      )}
    </main>
  );
}

function Counted({
  standings: { ballots, sampleBallots, voters, prompts, brokenRules, countedAt, methodVersion },
}: {
  standings: Standings;
}) {
  return (
    <p className="figures m-0 ml-auto text-soft">
      {count(ballots, "ballot")}
      {sampleBallots > 0 ? (
        <span className="text-care-ink"> ({sampleBallots === ballots ? "all" : sampleBallots} sample data)</span>
      ) : null}{" "}
      · {count(voters, "voter")} · {count(prompts, "prompt")} ·{" "}
      <time dateTime={countedAt} title={`${formatExact(countedAt)}, ${methodVersion}`}>
        counted {formatAgo(countedAt, Date.parse(countedAt))}
      </time>
      {brokenRules.length === 0 ? null : (
        <span title="How entries that are blank or crashed were treated in the booth">
          {" "}
          · blank and crashed entries{" "}
          {brokenRules
            .map(({ rule, panels, unseen }) =>
              [
                BROKEN_WORDS[rule],
                brokenRules.length > 1 ? `(${panels.join(", ")})` : "",
                unseen > 0 ? `(${unseen} ballots)` : "",
              ]
                .filter((part) => part !== "")
                .join(" "),
            )
            .join("; ")}
        </span>
      )}
    </p>
  );
}

function NoBallots({ isFiltered }: { isFiltered: boolean }) {
  return (
    <EmptyNotice
      title={isFiltered ? "No ballots on this kind" : "No ballots yet"}
      action={<Link to="/voting">Go to Voting</Link>}
    >
      {isFiltered
        ? "Nobody has voted on prompts of this kind. Choose another, or all kinds."
        : "Ratings need people's ballots. Invite a panel, and the standings move with every one that is cast."}
    </EmptyNotice>
  );
}

function Ready({ standings }: { standings: Standings }) {
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
        <HeadToHead standings={standings} />
        <Reading standings={standings} side={side} />
      </div>
    </div>
  );
}

const NEEDS: Record<Forecast["needs"], string> = {
  ballots: "That is with voters and prompts growing in step; the same ones may do too.",
  voters: "They must come from new voters; the same ones, however often they vote, would not do.",
  prompts: "They must be on new prompts; on the same ones no number would do.",
  "voters and prompts": "They must come from new voters, and on new prompts; of the same no number would do.",
};

/** Two significant digits: a forecast is no better than that. */
const formatRough = (n: number) => Number(n.toPrecision(n < 10 ? 1 : 2)).toLocaleString("en");

/** How far the first is from being told apart from the next. */
function Outlook({ forecast: { firstId, secondId, ballots, needs }, rows }: { forecast: Forecast; rows: Standing[] }) {
  const nameOf = (id: string) => rows.find(({ entrant }) => entrant.id === id)?.entrant.name ?? "";
  const { low, likely, high } = ballots;
  return (
    <div className="border-b border-rule py-2">
      <dt className="font-semibold">
        {likely === null
          ? `${nameOf(firstId)} and ${nameOf(secondId)} are too close to call`
          : `About ${formatRough(likely)} more ballots would tell ${nameOf(firstId)} from ${nameOf(secondId)}`}
      </dt>
      <dd className="m-0 text-soft">
        {likely === null
          ? "No number of ballots that one could collect would tell them apart if they differ as little as it looks. "
          : `If they differ as much as it looks; ${formatRough(low ?? 0)} if a little more, ${high === null ? "no number" : formatRough(high)} if a little less. `}
        {NEEDS[needs]}
      </dd>
    </div>
  );
}

const formatPoints = (points: number) => {
  const whole = Math.round(points);
  return `${whole > 0 ? "+" : whole < 0 ? "−" : ""}${Math.abs(whole)} ${Math.abs(whole) === 1 ? "point" : "points"}`;
};

/** What the figures say, in words, and what would help. */
function Reading({
  standings: { rows, voters, prompts, forecast },
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
        {forecast ? <Outlook forecast={forecast} rows={rows} /> : null}
        {forecast ? null : (
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
      <Link
        to="/voting"
        className="mt-4 inline-flex h-8 items-center rounded border border-act bg-act px-3 font-semibold text-on-act no-underline hover:bg-act-hover"
      >
        Invite voters
      </Link>
    </section>
  );
}
