import { Kind, KINDS, type Wall } from "@tourney/core/contract";
import { isFirstShot } from "@tourney/core/sheets";
import { useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { useGetJudgingQuery } from "../../api/sheet-api.js";
import { useEdition } from "../../api/use-edition.js";
import { useGetWallQuery } from "../../api/wall-api.js";
import { count } from "../../lib/format.js";
import { Kbd, Toggle } from "../../ui/controls.js";
import { FINDING_RULES, FindingMark, findingWord } from "../../ui/FindingMark.js";
import { NoSuiteNotice } from "../../ui/NoSuiteNotice.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { RuleGuide } from "../../ui/RuleGuide.js";
import { ImportAnswers } from "./ImportAnswers.js";
import { AnswerSheet, type AnswerTarget } from "./AnswerSheet.js";
import { isMarked } from "./CellView.js";
import { AskAgain } from "./AskAgain.js";
import { RecordAgain } from "./RecordAgain.js";
import { MarkedBar, useMarks } from "./Marked.js";
import { needsLook, WallGrid } from "./WallGrid.js";

const MOST_TAKES = 100;

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
  const marks = useMarks();
  const { data: judging } = useGetJudgingQuery(editionId);
  const sheets = useMemo(
    () => (judging?.sheets ?? []).filter((sheet) => sheet.take === take && isFirstShot(sheet)),
    [judging, take],
  );
  const {
    currentData: wall,
    error,
    refetch,
  } = useGetWallQuery({ editionId, take, versions }, { pollingInterval: 2000, skipPollingIfUnfocused: true });
  const [answerTarget, setAnswerTarget] = useState<AnswerTarget | null>(null);
  if (wall === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the wall" />;
  if (wall.entrants.length === 0) {
    return (
      <EmptyNotice
        title="The wall has no columns yet"
        action={<EditionLink to="/entrants">Go to Entrants</EditionLink>}
      >
        Each entrant becomes a column.
      </EmptyNotice>
    );
  }
  return (
    <main className="flex h-full min-h-0 flex-col">
      <h1 className="sr-only">Wall</h1>
      <Filters wall={wall} />
      {error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : null}
      <WallGrid
        wall={wall}
        kind={search.get("kind")}
        onlyNeedLook={search.get("look") === "1"}
        onAnswer={setAnswerTarget}
        marked={marks.entryIds}
        onMark={marks.mark}
        sheets={sheets}
      />
      <MarkedBar wall={wall} marks={marks} />
      <Legend wall={wall} />
      {answerTarget ? (
        <AnswerSheet editionId={editionId} target={answerTarget} onClose={() => setAnswerTarget(null)} />
      ) : null}
    </main>
  );
}

function Filters({ wall }: { wall: Wall }) {
  const [search, setSearch] = useSearchParams();
  const set = (key: string, value: string | null) =>
    setSearch((now) => {
      const next = new URLSearchParams(now);
      if (value === null) next.delete(key);
      else next.set(key, value);
      return next;
    });
  const kind = search.get("kind");
  const looks = wall.cells.filter(needsLook).length;
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-4 py-2.5">
      <Toggle pressed={kind === null} onClick={() => set("kind", null)}>
        All <span className="opacity-70">{wall.prompts.length}</span>
      </Toggle>
      {Kind.options
        .filter((key) => wall.prompts.some((prompt) => prompt.kind === key))
        .map((key) => (
          <Toggle key={key} pressed={kind === key} onClick={() => set("kind", key)}>
            {KINDS[key].plural}{" "}
            <span className="opacity-70">{wall.prompts.filter((prompt) => prompt.kind === key).length}</span>
          </Toggle>
        ))}
      <Toggle
        className="ml-3"
        pressed={search.get("look") === "1"}
        onClick={() => set("look", search.get("look") === "1" ? null : "1")}
      >
        Need a look <span className="opacity-70">{looks}</span>
      </Toggle>
      {wall.formerVersions > 0 || search.get("versions") === "all" ? (
        <Toggle
          pressed={search.get("versions") === "all"}
          title="Columns for what entrants answered before they were set up otherwise"
          onClick={() => set("versions", search.get("versions") === "all" ? null : "all")}
        >
          Older versions <span className="opacity-70">{wall.formerVersions}</span>
        </Toggle>
      ) : null}
      {wall.takes > 1 ? (
        <select
          aria-label="Take"
          value={search.get("take") ?? "1"}
          onChange={(event) => set("take", event.target.value)}
          className="h-6 rounded border border-rule bg-sheet px-2 text-[13px] text-ink"
        >
          {Array.from({ length: wall.takes }, (_, i) => (
            <option key={i} value={i + 1}>
              Take {i + 1}
            </option>
          ))}
        </select>
      ) : null}
      <span className="ml-auto" />
      <JudgeLink />
      <AskAgain wall={wall} />
      <RecordAgain wall={wall} />
      <ImportAnswers editionId={wall.edition.id} />
      <span className="figures ml-2 text-soft">
        {count(wall.prompts.length, "prompt")} · {count(wall.entrants.length, "entrant")} · {count(wall.takes, "take")}
      </span>
    </div>
  );
}

/** The mode that goes through what is not judged yet, with the filters of the wall. */
function JudgeLink() {
  const [search] = useSearchParams();
  const scope = new URLSearchParams([...search].filter(([key]) => ["kind", "take"].includes(key)));
  return (
    <EditionLink
      to={`/judge?${scope.toString()}`}
      className="inline-flex h-6 items-center rounded border border-rule bg-sheet px-2.5 text-[13px] text-ink no-underline hover:border-ink"
    >
      Judge the next one
    </EditionLink>
  );
}

/** The marks that are on this wall; all there are stand in the guide. */
function Legend({ wall }: { wall: Wall }) {
  const shown = new Set(wall.cells.flatMap(({ findings }) => findings.filter(isMarked).map(({ rule }) => rule)));
  return (
    <footer className="flex flex-wrap items-center gap-x-5 gap-y-1 border-t border-strong-rule px-4 py-1.5 text-[13px]">
      {FINDING_RULES.filter((rule) => shown.has(rule)).map((rule) => (
        <span key={rule} className="flex items-center gap-2">
          <FindingMark rule={rule} severity="error" /> {findingWord(rule)}
        </span>
      ))}
      <RuleGuide />
      <span className="ml-auto flex items-center gap-2 text-soft">
        <Kbd>←↑↓→</Kbd> move <Kbd>Enter</Kbd> open <Kbd>[</Kbd>
        <Kbd>]</Kbd> scrub <Kbd>Space</Kbd> mark <Kbd>C</Kbd> compare <Kbd>?</Kbd> keys
      </span>
    </footer>
  );
}
