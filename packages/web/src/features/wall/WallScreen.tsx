import type { Wall } from "@tourney/core/contract";
import { isFirstShot } from "@tourney/core/sheets";
import { useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { useGetJudgingQuery } from "../../api/sheet-api.js";
import { useEdition } from "../../api/use-edition.js";
import { useGetPromptRatingsQuery } from "../../api/ratings-api.js";
import { useGetWallQuery } from "../../api/wall-api.js";
import { useFollow } from "../../api/use-follow.js";
import { NoSuiteNotice } from "../../ui/NoSuiteNotice.js";
import { EmptyScreen, ErrorNotice, Loading } from "../../ui/notices.js";
import { AnswerSheet, type AnswerTarget } from "./AnswerSheet.js";
import { Fan, useFan } from "./Fan.js";
import { MarkedBar, useMarks } from "./Marked.js";
import { Filters, Legend } from "./WallFilters.js";
import { WallGrid } from "./WallGrid.js";
import { knowWall } from "./wall-knowledge.js";
import { readView } from "./wall-view.js";

const MOST_TAKES = 100;
const MOST_ROUNDS = 100;

/** While it asks again and nothing has changed, nothing is drawn anew. */
const AS_IT_IS = {
  selectFromResult: ({ currentData, error }: { currentData?: Wall | undefined; error?: unknown }) => ({
    currentData,
    error,
  }),
};

/** The wall: prompts down, entrants across, one picture a cell. */
export function WallScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the wall" />;
  if (edition === null) {
    return (
      <NoSuiteNotice title="The wall is empty">Each prompt becomes a row and each entrant a column.</NoSuiteNotice>
    );
  }
  return <EditionWall editionId={edition.id} />;
}

function EditionWall({ editionId }: { editionId: string }) {
  const [search] = useSearchParams();
  const versions = search.get("versions") === "all" ? "all" : undefined;
  const take = Math.min(MOST_TAKES, Math.max(1, Math.round(Number(search.get("take"))) || 1));
  const round = Math.min(MOST_ROUNDS, Math.max(0, Math.round(Number(search.get("round"))) || 0));
  const marks = useMarks();
  const fan = useFan();
  const view = useMemo(() => readView(search), [search]);
  const { data: judging } = useGetJudgingQuery(editionId);
  const sheets = useMemo(
    () => (judging?.sheets ?? []).filter((sheet) => sheet.take === take && isFirstShot(sheet)),
    [judging, take],
  );
  const { currentData: wall, error, refetch } = useGetWallQuery({ editionId, take, round, versions }, AS_IT_IS);
  useFollow(refetch, { about: ["cells"], everyMs: 1000 });
  const { data: ratings, refetch: refetchRatings } = useGetPromptRatingsQuery(editionId);
  useFollow(refetchRatings, { about: ["ballots"], everyMs: 15_000 });
  const entrants = wall?.entrants;
  const known = useMemo(() => knowWall(entrants ?? [], sheets, ratings), [entrants, sheets, ratings]);
  const [answerTarget, setAnswerTarget] = useState<AnswerTarget | null>(null);
  if (wall === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the wall" />;
  if (wall.entrants.length === 0) {
    return (
      <EmptyScreen
        title="The wall has no columns yet"
        action={<EditionLink to="/entrants">Go to Entrants</EditionLink>}
      >
        Each entrant becomes a column.
      </EmptyScreen>
    );
  }
  return (
    <main className="flex h-full min-h-0 flex-col">
      <h1 className="sr-only">Wall</h1>
      <Filters wall={wall} known={known} />
      {error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : null}
      <WallGrid
        wall={wall}
        view={view}
        onAnswer={setAnswerTarget}
        marked={marks.entryIds}
        onMark={marks.mark}
        onFan={fan.open}
        known={known}
      />
      <MarkedBar wall={wall} marks={marks} />
      <Legend wall={wall} />
      {fan.fanned ? <Fan fanned={fan.fanned} onClose={fan.close} /> : null}
      {answerTarget ? (
        <AnswerSheet editionId={editionId} target={answerTarget} onClose={() => setAnswerTarget(null)} />
      ) : null}
    </main>
  );
}
