import {
  findFirst,
  judgePrompt,
  nameOfCompetitor,
  type RailScale,
  rank,
  type RatedRow,
  scaleRail,
  type Worth,
} from "@tourney/core/conclusions";
import { Kind, type PromptRatings, type Standing, type Wall } from "@tourney/core/contract";
import { EditionLink } from "../../api/edition-links.js";
import { useGetWallQuery } from "../../api/wall-api.js";
import { count, formatShare } from "../../lib/format.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { BallotsLink } from "./BallotsLink.js";
import { RailTicks, SmallRail } from "./SmallRail.js";

const HEADING = "m-0 border-b border-strong-rule pb-1.5 text-[16px]";
const HEAD = "py-1.5 text-left text-[12px] font-medium text-soft";

/** How entrants do on each kind, tag and prompt, all lines on one scale. */
export function ByPrompt({
  editionId,
  rows,
  ratings,
}: {
  editionId: string;
  rows: readonly Standing[];
  /** Undefined while they are being computed. */
  ratings: PromptRatings | undefined;
}) {
  const { currentData: wall } = useGetWallQuery({ editionId, take: 1 });
  if (ratings === undefined || wall === undefined) return null;
  const all = [...ratings.prompts, ...ratings.categories].flatMap((one) => one.ratings);
  if (all.length === 0) return null;
  const scale = scaleRail(all.map(({ rating }) => ({ rating, halfWidth: null })));
  return (
    <>
      <Categories {...{ ratings, rows, scale }} />
      <Prompts {...{ ratings, rows, scale, wall }} />
    </>
  );
}

interface Shown {
  ratings: PromptRatings;
  rows: readonly Standing[];
  scale: RailScale;
}

function Categories({ ratings: { categories }, rows, scale }: Shown) {
  if (categories.length === 0) return null;
  return (
    <section aria-labelledby="by-kind-heading" className="mt-8">
      <h2 id="by-kind-heading" className={HEADING}>
        By kind and tag{" "}
        <span className="text-[13px] font-normal text-soft">drawn towards the whole where ballots are few</span>
      </h2>
      <div className="overflow-x-auto">
        <table className="w-full min-w-[860px] border-collapse">
          <thead>
            <tr>
              <th className={`${HEAD} w-56`}>kind or tag</th>
              <th className={HEAD} aria-label="ratings">
                <RailTicks scale={scale} />
              </th>
              <th className={`${HEAD} w-60 pl-6`}>best there</th>
              <th className={`${HEAD} w-20 text-right`}>prompts</th>
              <th className={`${HEAD} w-20 text-right`}>ballots</th>
            </tr>
          </thead>
          <tbody>
            {categories.map(({ of, name, prompts, ballots, ratings }) => {
              const rated = rank(ratings, rows);
              return (
                <tr key={`${of} ${name}`} className="border-b border-rule">
                  <th scope="row" className="py-1.5 text-left font-semibold">
                    {name} {of === "tag" ? <span className="font-normal text-soft">tag</span> : null}
                  </th>
                  <td>
                    <SmallRail {...{ name, rated, scale }} />
                  </td>
                  <td className="pl-6">{rated[0] ? <Named rated={rated[0]} /> : null}</td>
                  <td className="figures text-right">{prompts}</td>
                  <td className="figures text-right">
                    <BallotsLink
                      part={of === "tag" ? { tag: [name] } : { kind: Kind.options.filter((kind) => kind === name) }}
                      title={`The ballots on what is ${of === "tag" ? "tagged" : "of kind"} ${name}`}
                    >
                      {ballots}
                    </BallotsLink>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

const Named = ({ rated: { row, rating, halfWidth } }: { rated: RatedRow }) => (
  <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
    <EntrantGlyph glyph={row.entrant.glyph} />
    {nameOfCompetitor(row)}
    <span className="figures text-soft">
      {Math.round(rating)} ± {Math.round(halfWidth)}
    </span>
  </span>
);

const WORTH_WORDS: Record<Worth, { word: string; title: string; tone: string }> = {
  "worn out": {
    word: "worn out",
    title: "Many ballots are even, and the entrants lie close together: it tells little apart. One to retire.",
    tone: "text-care-ink",
  },
  disputed: {
    word: "disputed",
    title: "Voters part on it: less than seven in ten deciding ballots lie on the side that most took.",
    tone: "text-care-ink",
  },
  "tells apart": { word: "tells apart", title: "Its ballots tell entrants apart.", tone: "text-soft" },
  "too few ballots": { word: "too few ballots", title: "Fewer than 30: nothing is said of it yet.", tone: "text-soft" },
};

function Prompts({ ratings: { prompts, overall }, rows, scale, wall }: Shown & { wall: Wall }) {
  const wholes = overall.flatMap(({ rating }) => (rating === null ? [] : [rating]));
  const judged = wall.prompts.flatMap(({ id, title }) => {
    const own = prompts.find(({ promptId }) => promptId === id);
    if (own === undefined) return [];
    const rated = rank(own.ratings, rows);
    return [{ ...own, title, rated, worth: judgePrompt(own, { rated, overall: wholes }) }];
  });
  const retired = judged.filter(({ worth }) => worth === "worn out");
  return (
    <section aria-labelledby="by-prompt-heading" className="mt-8">
      <h2 id="by-prompt-heading" className={HEADING}>
        By prompt{" "}
        <span className="text-[13px] font-normal text-soft">
          {retired.length === 0
            ? "none is worn out"
            : `${count(retired.length, "prompt")} worn out: ${retired.map(({ title }) => title).join(", ")}`}
        </span>
      </h2>
      <div className="overflow-x-auto">
        <table className="w-full min-w-[860px] border-collapse">
          <thead>
            <tr>
              <th className={`${HEAD} w-56`}>prompt</th>
              <th className={HEAD} aria-label="ratings">
                <RailTicks scale={scale} />
              </th>
              <th className={`${HEAD} w-60 pl-6`}>first there</th>
              <th className={`${HEAD} w-32`}>what it is worth</th>
              <th className={`${HEAD} w-16 text-right`} title="Share of deciding ballots on the side that most took">
                agree
              </th>
              <th className={`${HEAD} w-16 text-right`}>even</th>
              <th className={`${HEAD} w-16 text-right`}>ballots</th>
            </tr>
          </thead>
          <tbody>
            {judged.map(({ promptId, title, rated, worth, ballots, evenShare, agreement }) => (
              <tr key={promptId} className="border-b border-rule">
                <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
                  <PromptLink {...{ promptId, title, rated, wall }} />
                </th>
                <td>
                  <SmallRail name={title} rated={rated} scale={scale} />
                </td>
                <td className="pl-6">
                  <First rated={rated} />
                </td>
                <td className={WORTH_WORDS[worth].tone} title={WORTH_WORDS[worth].title}>
                  {WORTH_WORDS[worth].word}
                </td>
                <td className="figures text-right">{formatShare(agreement)}</td>
                <td className="figures text-right">{formatShare(evenShare)}</td>
                <td className="figures text-right">
                  <BallotsLink of={{ promptId }} title="The ballots on this prompt">
                    {ballots}
                  </BallotsLink>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 mb-0 text-[13px] text-soft">
        Someone is first on a prompt when the ballots there tell it apart from the next, the ratings over all prompts
        taken as known; faint marks rest on fewer than 20 ballots. A prompt's name compares its best and its worst.
      </p>
    </section>
  );
}

function First({ rated }: { rated: readonly RatedRow[] }) {
  const first = findFirst(rated);
  return first === null ? <span className="text-soft">none</span> : <Named rated={first} />;
}

/** Leads to the best and the worst on a prompt, side by side. */
function PromptLink({
  promptId,
  title,
  rated,
  wall,
}: {
  promptId: string;
  title: string;
  rated: readonly RatedRow[];
  wall: Wall;
}) {
  const entryIds = [rated[0], rated.at(-1)].flatMap((one) => {
    const cell = wall.cells.find((cell) => cell.promptId === promptId && cell.versionId === one?.row.version.id);
    return cell?.entryId ? [cell.entryId] : [];
  });
  if (rated.length < 2 || entryIds.length < 2) return title;
  return <EditionLink to={`/compare?entries=${entryIds.join(",")}`}>{title}</EditionLink>;
}
