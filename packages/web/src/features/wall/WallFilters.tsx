import { Kind, KINDS, type Wall } from "@tourney/core/contract";
import { Popover } from "radix-ui";
import { useSearchParams } from "react-router";
import { EditionLink } from "../../api/edition-links.js";
import { count } from "../../lib/format.js";
import { Kbd, Toggle } from "../../ui/controls.js";
import { FINDING_RULES, FindingMark, findingWord } from "../../ui/FindingMark.js";
import { RuleGuide } from "../../ui/RuleGuide.js";
import { AskAgain } from "./AskAgain.js";
import { ImportAnswers } from "./ImportAnswers.js";
import { RecordAgain } from "./RecordAgain.js";
import type { WallKnowledge } from "./wall-knowledge.js";
import {
  COLUMN_ORDERS,
  needsLook,
  OUTCOMES,
  readView,
  ROW_ORDERS,
  settledBy,
  VERDICTS,
  type WallView,
  ZOOMS,
} from "./wall-view.js";

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
export function Filters({ wall, known }: { wall: Wall; known: WallKnowledge }) {
  const [search] = useSearchParams();
  const set = useSet();
  const kind = search.get("kind");
  const looks = wall.cells.filter(needsLook);
  const settled = looks.filter((cell) => settledBy(cell, known).length > 0).length;
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-4 py-2.5 max-[640px]:flex-nowrap max-[640px]:overflow-x-auto max-[640px]:[&>*]:shrink-0">
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
        Need a look{" "}
        <span className="opacity-70">
          {looks.length}
          {settled > 0 ? `, ${settled} settled` : ""}
        </span>
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
      {wall.rounds > 0 ? (
        <select
          aria-label="Round"
          value={String(wall.round)}
          onChange={(event) => set("round", event.target.value === "0" ? null : event.target.value)}
          className="h-6 rounded border border-rule bg-sheet px-2 text-[13px] text-ink"
        >
          {Array.from({ length: wall.rounds + 1 }, (_, i) => (
            <option key={i} value={i}>
              {i === 0 ? "First shots" : `Round ${i}`}
            </option>
          ))}
        </select>
      ) : null}
      <ViewMenu wall={wall} known={known} />
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

interface Choice {
  label: string;
  key: string;
  value: string;
  /** The first is what holds without a choice. */
  options: readonly (readonly [value: string, text: string])[];
}

/** All that the wall can be ordered and filtered by, besides kinds and findings. */
function listChoices(wall: Wall, known: WallKnowledge, view: WallView): { orders: Choice[]; filters: Choice[] } {
  const distinct = (values: readonly string[]) => [...new Set(values)].filter((value) => value !== "").toSorted();
  const named = (values: readonly string[]) => values.map((value) => [value, value] as const);
  const choice = (label: string, key: string, value: string | null, options: Choice["options"]): Choice => ({
    ...{ label, key, options },
    value: value ?? options[0]![0],
  });
  return {
    orders: [
      choice("Columns", "columns", view.columns, Object.entries(COLUMN_ORDERS)),
      choice("Rows", "rows", view.rows, Object.entries(ROW_ORDERS)),
      choice("Columns across", "zoom", view.zoom === null ? null : String(view.zoom), [
        ["", "all that there are"],
        ...named(ZOOMS.map(String)),
      ]),
    ],
    filters: [
      choice("Entrant", "entrant", view.entrant, [
        ["", "all"],
        ...wall.entrants.filter(({ version }) => version.isPresent).map(({ key, name }) => [key, name] as const),
      ]),
      choice("Maker", "maker", view.maker, [["", "all"], ...named(distinct(wall.entrants.map(({ maker }) => maker)))]),
      choice("Prompt's tag", "tag", view.tag, [
        ["", "all"],
        ...named(distinct(wall.prompts.flatMap(({ tags }) => tags))),
      ]),
      choice("Outcome", "outcome", view.outcome, [["", "all"], ...Object.entries(OUTCOMES)]),
      choice("Verdict", "verdict", view.verdict, [["", "all"], ...Object.entries(VERDICTS)]),
      choice("Tag of a sheet", "sheet", view.sheetTag, [
        ["", "all"],
        ...named(distinct(known.sheets.flatMap(({ tags }) => tags))),
      ]),
    ].filter(({ options, value }) => options.length > 2 || value !== ""),
  };
}

/** Orders and filters of the wall behind one button; what is set stands beside it and is taken off there. */
function ViewMenu({ wall, known }: { wall: Wall; known: WallKnowledge }) {
  const [search] = useSearchParams();
  const set = useSet();
  const view = readView(search);
  const { orders, filters } = listChoices(wall, known, view);
  const chosen = [...orders, ...filters].filter(({ value, options }) => value !== options[0]![0]);
  const choose = ({ key, options }: Choice, value: string) => set(key, value === options[0]![0] ? null : value);
  return (
    <>
      <Popover.Root>
        <Popover.Trigger className="ml-2 inline-flex h-6 items-center rounded border border-rule bg-sheet px-2.5 text-[13px] text-ink hover:border-ink">
          View…
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={4}
            aria-label="How the wall is looked at"
            className="z-40 grid max-h-[70vh] w-84 max-w-[calc(100vw-32px)] gap-1.5 overflow-auto rounded border border-rule bg-sheet p-3 shadow-lg"
          >
            {[...orders, ...filters].map((one) => (
              <label key={one.key} className="grid grid-cols-[108px_1fr] items-center gap-2 text-[13px]">
                {one.label}
                <select
                  value={one.value}
                  onChange={(event) => choose(one, event.target.value)}
                  className="h-7 min-w-0 rounded border border-rule bg-sheet px-1.5 text-ink"
                >
                  {one.options.map(([option, text]) => (
                    <option key={option} value={option}>
                      {text}
                    </option>
                  ))}
                </select>
              </label>
            ))}
            <label className="grid grid-cols-[108px_1fr] items-center gap-2 text-[13px]">
              Answered since
              <input
                type="date"
                value={view.since ?? ""}
                onChange={(event) => set("since", event.target.value === "" ? null : event.target.value)}
                className="h-7 min-w-0 rounded border border-rule bg-sheet px-1.5 text-ink"
              />
            </label>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      {chosen.map((one) => (
        <Chip key={one.key} onRemove={() => set(one.key, null)}>
          {one.label}: {one.options.find(([option]) => option === one.value)?.[1] ?? one.value}
        </Chip>
      ))}
      {view.since === null ? null : <Chip onRemove={() => set("since", null)}>Answered since {view.since}</Chip>}
    </>
  );
}

/** A setting that holds, and is taken off by a click. */
function Chip({ onRemove, children }: { onRemove: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      title="Take this off"
      onClick={onRemove}
      className="inline-flex h-6 max-w-64 items-center gap-1.5 rounded border border-ink bg-sheet px-2 text-[13px] text-ink"
    >
      <span className="truncate">{children}</span>
      <span aria-hidden="true">×</span>
    </button>
  );
}

/** The marks that are on this wall; all there are stand in the guide. */
export function Legend({ wall }: { wall: Wall }) {
  const [search] = useSearchParams();
  const set = useSet();
  const { finding } = readView(search);
  const counts = new Map<string, number>();
  for (const { findings } of wall.cells)
    for (const rule of new Set(findings.map((item) => item.rule))) counts.set(rule, (counts.get(rule) ?? 0) + 1);
  return (
    <footer className="flex flex-wrap items-center gap-x-2 gap-y-1 border-t border-strong-rule px-4 py-1.5 text-[13px] max-[640px]:flex-nowrap max-[640px]:overflow-x-auto max-[640px]:[&>*]:shrink-0">
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
      <span className="ml-auto flex items-center gap-2 text-soft max-[640px]:hidden">
        <Kbd>←↑↓→</Kbd> move <Kbd>Enter</Kbd> open <Kbd>[</Kbd>
        <Kbd>]</Kbd> scrub <Kbd>Space</Kbd> mark <Kbd>C</Kbd> compare <Kbd>?</Kbd> keys
      </span>
    </footer>
  );
}
