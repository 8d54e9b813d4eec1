import { Kind, KINDS, type Wall } from "@tourney/core/contract";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { count } from "../../lib/format.js";
import { Kbd, Toggle } from "../../ui/controls.js";
import { FINDING_RULES, FindingMark, findingWord } from "../../ui/FindingMark.js";
import { RuleGuide } from "../../ui/RuleGuide.js";
import { AskAgain } from "./AskAgain.js";
import { isMarked } from "./CellView.js";
import { ImportAnswers } from "./ImportAnswers.js";
import { RecordAgain } from "./RecordAgain.js";
import { COLUMN_ORDERS, needsLook, readView, ROW_ORDERS, ZOOMS } from "./wall-view.js";

/** Sets one part of the address, or takes it away. */
function useSet(): (key: string, value: string | null) => void {
  const [, setSearch] = useSearchParams();
  return (key, value) =>
    setSearch((now) => {
      const next = new URLSearchParams(now);
      if (value === null) next.delete(key);
      else next.set(key, value);
      return next;
    });
}

/** What of the wall is shown, and in which order; all of it is in the address. */
export function Filters({ wall }: { wall: Wall }) {
  const [search] = useSearchParams();
  const set = useSet();
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
      <Orders wall={wall} />
      <span className="ml-auto" />
      <JudgeLink />
      <AskAgain wall={wall} />
      <RecordAgain wall={wall} />
      <ImportAnswers editionId={wall.edition.id} />
      <span className="figures ml-2 text-soft max-[1700px]:hidden">
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

/** Order of columns and rows, one maker alone, and how many columns fill the width. */
function Orders({ wall }: { wall: Wall }) {
  const [search] = useSearchParams();
  const set = useSet();
  const view = readView(search);
  const makers = [...new Set(wall.entrants.map(({ maker }) => maker))].filter((maker) => maker !== "").toSorted();
  const select = (label: string, key: string, value: string, options: readonly (readonly [string, string])[]) => (
    <select
      aria-label={label}
      title={label}
      value={value}
      onChange={(event) => set(key, event.target.value === options[0]![0] ? null : event.target.value)}
      className="h-6 max-w-44 rounded border border-rule bg-sheet px-1.5 text-[13px] text-ink"
    >
      {options.map(([option, text]) => (
        <option key={option} value={option}>
          {text}
        </option>
      ))}
    </select>
  );
  return (
    <span className="ml-2 flex flex-wrap gap-1.5">
      {select("Columns", "columns", view.columns, withWord("Columns", Object.entries(COLUMN_ORDERS)))}
      {select("Rows", "rows", view.rows, withWord("Rows", Object.entries(ROW_ORDERS)))}
      {makers.length > 1
        ? select("Maker", "maker", view.maker ?? "", [
            ["", "All makers"],
            ...makers.map((maker) => [maker, maker] as const),
          ])
        : null}
      {select("Columns across", "zoom", String(view.zoom ?? ""), [
        ["", "All columns"],
        ...ZOOMS.map((zoom) => [String(zoom), `${zoom} across`] as const),
      ])}
    </span>
  );
}

const withWord = (word: string, options: readonly [string, string][]) =>
  options.map(([key, text]) => [key, `${word} ${text}`] as const);

/** The marks that are on this wall; all there are stand in the guide. */
export function Legend({ wall }: { wall: Wall }) {
  const [search] = useSearchParams();
  const set = useSet();
  const { finding } = readView(search);
  const counts = new Map<string, number>();
  for (const { findings } of wall.cells)
    for (const rule of new Set(findings.filter(isMarked).map((item) => item.rule)))
      counts.set(rule, (counts.get(rule) ?? 0) + 1);
  return (
    <footer className="flex flex-wrap items-center gap-x-2 gap-y-1 border-t border-strong-rule px-4 py-1.5 text-[13px]">
      {FINDING_RULES.filter((rule) => counts.has(rule)).map((rule) => (
        <button
          key={rule}
          type="button"
          aria-pressed={finding === rule}
          title={finding === rule ? "Show all again" : "Show only the rows that have it"}
          onClick={() => set("finding", finding === rule ? null : rule)}
          className={`inline-flex h-6 items-center gap-1.5 rounded border px-1.5 text-[13px] ${finding === rule ? "border-ink bg-sheet" : "border-transparent bg-transparent text-ink hover:border-rule"}`}
        >
          <FindingMark rule={rule} severity="error" /> {findingWord(rule)}{" "}
          <span className="figures text-soft">{counts.get(rule)}</span>
        </button>
      ))}
      <RuleGuide />
      <span className="ml-auto flex items-center gap-2 text-soft">
        <Kbd>←↑↓→</Kbd> move <Kbd>Enter</Kbd> open <Kbd>[</Kbd>
        <Kbd>]</Kbd> scrub <Kbd>Space</Kbd> mark <Kbd>C</Kbd> compare <Kbd>?</Kbd> keys
      </span>
    </footer>
  );
}
