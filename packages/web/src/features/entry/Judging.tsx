import { useEffect, useMemo, useState } from "react";
import { Navigate, useSearchParams } from "react-router";
import { EditionLink, useEditionNavigate } from "../../api/edition-links.js";
import { useGetJudgingQuery } from "../../api/sheet-api.js";
import { useEdition } from "../../api/use-edition.js";
import { useGetWallQuery } from "../../api/wall-api.js";
import { count } from "../../lib/format.js";
import { useJudge } from "../../lib/judge.js";
import { useKeys } from "../../lib/use-keys.js";
import { Button, Kbd, Toggle } from "../../ui/controls.js";
import { EmptyScreen, ErrorNotice, Loading } from "../../ui/notices.js";
import { findNextUnjudged, listJudged, listQueue, readScope, stepInQueue } from "./judge-queue.js";

/** Whether the address asks for going through entries one after another. */
export const isJudging = (search: URLSearchParams): boolean => search.has("judge");

/** An entry's address within the mode that goes through what is not judged yet. */
function judgeAddress(entryId: string, search: URLSearchParams): string {
  const kept = new URLSearchParams(search);
  for (const key of ["tab", "view", "edition", "after"]) kept.delete(key);
  kept.set("judge", "1");
  return `/entries/${entryId}?${kept.toString()}`;
}

/** The queue of an edition with what this judge has done of it. */
function useQueue(editionId: string) {
  const [search] = useSearchParams();
  const [judge] = useJudge();
  const scope = readScope(search);
  const { currentData: wall, error } = useGetWallQuery({ editionId, take: scope.take });
  const { data: judging, error: judgingError } = useGetJudgingQuery(editionId);
  const { kind, entrantId, take, isBlind } = scope;
  const queue = useMemo(
    () => (wall === undefined ? null : listQueue(wall, { kind, entrantId, take, isBlind })),
    [wall, kind, entrantId, take, isBlind],
  );
  const judged = useMemo(() => (judging === undefined ? null : listJudged(judging.sheets, judge)), [judging, judge]);
  return { queue, judged, error: error ?? judgingError, search, isBlind };
}

/** Goes to the first entry that this judge has given no verdict on. */
export function JudgeScreen() {
  const { edition, error } = useEdition();
  if (edition === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="what is to be judged" />;
  if (edition === null)
    return (
      <EmptyScreen title="Nothing to judge yet" action={<EditionLink to="/suite">Import a suite</EditionLink>}>
        A score sheet is filled in for one entry. There is no edition with any.
      </EmptyScreen>
    );
  return <FirstUnjudged editionId={edition.id} />;
}

/** A verdict that was given a moment ago may be on its way for so long. */
const ON_ITS_WAY_MS = 3000;

function FirstUnjudged({ editionId }: { editionId: string }) {
  const { queue, judged, error, search } = useQueue(editionId);
  const [isLate, setIsLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setIsLate(true), ON_ITS_WAY_MS);
    return () => clearTimeout(timer);
  }, []);
  if (queue === null || judged === null)
    return error ? <ErrorNotice error={error} /> : <Loading what="what is to be judged" />;
  const after = search.get("after");
  const next = findNextUnjudged(queue, judged, after);
  if (next !== null) return <Navigate to={judgeAddress(next, search)} replace />;
  // The one that was come from is judged, too, unless its verdict does not arrive.
  if (after !== null && queue.includes(after) && !judged.has(after))
    return isLate ? <Navigate to={judgeAddress(after, search)} replace /> : <Loading what="the last verdict" />;
  const [first] = queue;
  return (
    <EmptyScreen
      title={queue.length === 0 ? "Nothing to judge here" : "All are judged"}
      action={
        <span className="flex gap-4">
          <EditionLink to="/wall">To the wall</EditionLink>
          {first === undefined ? null : (
            <EditionLink to={judgeAddress(first, search)}>Go through them again</EditionLink>
          )}
        </span>
      }
    >
      {queue.length === 0
        ? "No entry matches what the address asks for."
        : `You have given a verdict on ${count(queue.length, "entry", "entries")}. The wall tallies them by entrant and prompt.`}
    </EmptyScreen>
  );
}

/** How far the judge is, and the ways on: J and K to the neighbours, Enter to the next without a verdict. */
export function JudgeBar({ entryId, editionId }: { entryId: string; editionId: string }) {
  const { queue, judged, search, isBlind } = useQueue(editionId);
  const [, setSearch] = useSearchParams();
  const navigate = useEditionNavigate();
  const goTo = (next: string | null) => {
    if (next !== null) navigate(judgeAddress(next, search));
  };
  const steps = {
    next: queue === null ? null : stepInQueue(queue, entryId, 1),
    previous: queue === null ? null : stepInQueue(queue, entryId, -1),
    unjudged: queue === null || judged === null ? null : findNextUnjudged(queue, judged, entryId),
  };
  const finish = () => {
    const left = new URLSearchParams(search);
    left.set("after", entryId);
    if (steps.unjudged === null) navigate(`/judge?${left.toString()}`);
    else goTo(steps.unjudged);
  };
  useStepKeys({ j: () => goTo(steps.next), k: () => goTo(steps.previous), enter: finish });
  const done = queue === null || judged === null ? null : queue.filter((id) => judged.has(id)).length;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule bg-sheet px-4 py-1.5">
      <span role="status" className="figures">
        {queue === null || done === null ? "Counting …" : `${done} of ${queue.length} judged`}
      </span>
      <Toggle
        pressed={isBlind}
        title="Judge without knowing who made it; the order of entrants is shuffled"
        onClick={() =>
          setSearch((now) => {
            const next = new URLSearchParams(now);
            if (isBlind) next.delete("blind");
            else next.set("blind", "1");
            return next;
          })
        }
      >
        Hide names
      </Toggle>
      <span className="ml-auto" />
      <Button compact disabled={steps.previous === null} onClick={() => goTo(steps.previous)}>
        ‹ <Kbd>K</Kbd>
      </Button>
      <Button compact disabled={steps.next === null} onClick={() => goTo(steps.next)}>
        <Kbd>J</Kbd> ›
      </Button>
      <Button compact tone="primary" disabled={queue === null || judged === null} onClick={finish}>
        Next not judged ⏎
      </Button>
    </div>
  );
}

/** Calls what a key stands for, unless somebody writes, or a button has the focus and Enter is its own. */
function useStepKeys(actions: Record<"j" | "k" | "enter", () => void>): void {
  useKeys((event) => {
    const key = event.key.toLowerCase();
    if (key !== "j" && key !== "k" && key !== "enter") return;
    if (key === "enter" && (event.target as Element).closest("a, button") !== null) return;
    event.preventDefault();
    actions[key]();
  });
}
