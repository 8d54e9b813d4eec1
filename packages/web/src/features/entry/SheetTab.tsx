import {
  type EntryDetail,
  type ScoreSheet,
  SheetVerdict,
  type WatchpointMark,
  watchpointText,
} from "@tourney/core/contract";
import { listEvidence } from "@tourney/core/sheets";
import { type ReactNode, useId, useRef, useState } from "react";
import { useGetJudgingQuery } from "../../api/sheet-api.js";
import { count, formatAgo, formatExact } from "../../lib/format.js";
import { useJudge } from "../../lib/judge.js";
import { useKeys } from "../../lib/use-keys.js";
import { useNow } from "../../lib/use-now.js";
import { Button, Field, Kbd, Toggle } from "../../ui/controls.js";
import { markOf, pressKey, setMark, VERDICT_KEYS } from "./sheet-keys.js";
import { type OpenSheet, type SheetParts, useSheet } from "./use-sheet.js";

const VERDICT_WORDS: Readonly<Record<SheetVerdict, string>> = { pass: "pass", part: "part", fail: "fail" };
const MARKS: readonly { mark: WatchpointMark; sign: string; word: string; on: string }[] = [
  { mark: "met", sign: "✓", word: "met", on: "bg-sound text-ground border-sound" },
  { mark: "not_met", sign: "✕", word: "not met", on: "bg-broken text-ground border-broken" },
  { mark: "unsure", sign: "?", word: "cannot tell", on: "bg-ink text-ground border-ink" },
];

/** One person's judgement of the entry: what to look for, a verdict, marks, a note, and tags of their own. */
export function SheetTab({ entry, isBlind }: { entry: EntryDetail; isBlind: boolean }) {
  const [judge] = useJudge();
  const open = useSheet(entry.id, judge, isBlind);
  const note = useRef<HTMLTextAreaElement>(null);
  const tags = useRef<HTMLInputElement>(null);
  useSheetKeys(open, entry, { n: note, t: tags });
  const { sheet, change } = open;
  return (
    <section aria-label="Score sheet" onKeyDown={leaveField} className="grid gap-4">
      <Watchpoints {...{ entry, sheet, change }} />
      <Part title="Verdict">
        <div className="flex gap-1.5">
          {SheetVerdict.options.map((verdict) => (
            <Toggle
              key={verdict}
              className="h-7"
              pressed={sheet.verdict === verdict}
              onClick={() => change({ verdict: sheet.verdict === verdict ? null : verdict })}
            >
              <Kbd>{VERDICT_KEYS[verdict].toUpperCase()}</Kbd> {VERDICT_WORDS[verdict]}
            </Toggle>
          ))}
        </div>
      </Part>
      <Part title="Out of ten" hint="if you give marks">
        <Marks marks={sheet.marks} onChange={(marks) => change({ marks })} />
      </Part>
      <Part title="Note" keyName="N">
        <textarea
          ref={note}
          aria-label="Note"
          rows={3}
          maxLength={2000}
          value={sheet.note}
          onChange={(event) => change({ note: event.target.value })}
          className="block w-full rounded border border-rule bg-sheet px-2.5 py-1.5 text-ink"
        />
      </Part>
      <Part title="Tags" keyName="T" hint="your own, as in “favourite”">
        <Tags field={tags} tags={sheet.tags} onChange={(tags) => change({ tags })} />
      </Part>
      <Foot {...{ open, isBlind }} />
      {open.others.length > 0 && !isBlind ? <Others sheets={open.others} /> : null}
      <Agreement editionId={entry.editionId} judge={judge} />
    </section>
  );
}

type Change = OpenSheet["change"];

/** Keys that fill the sheet in, wherever the focus is but in a field; N and T go to the words, Escape comes back. */
function useSheetKeys(
  open: OpenSheet,
  entry: EntryDetail,
  fields: Record<string, React.RefObject<HTMLElement | null>>,
): void {
  useKeys((event) => {
    if (open.isLoading) return;
    const field = fields[event.key.toLowerCase()];
    const texts = entry.prompt.watchpoints.map(watchpointText);
    const press = (sheet: SheetParts) => pressKey(sheet, texts, event.key);
    if (field === undefined && press(open.sheet) === null) return;
    event.preventDefault();
    if (field !== undefined) field.current?.focus();
    else open.change((sheet) => press(sheet) ?? {});
  });
}

/** Escape gives the keys back from what is being written. */
const leaveField = ({ key, target }: React.KeyboardEvent) => {
  if (key === "Escape") (target as HTMLElement).blur();
};

function Part({
  title,
  hint,
  keyName,
  children,
}: {
  title: string;
  hint?: string;
  keyName?: string;
  children: ReactNode;
}) {
  return (
    <div>
      <h3 className="m-0 mb-1.5 flex items-center gap-2 text-[15px] leading-5">
        {title}
        {keyName === undefined ? null : <Kbd>{keyName}</Kbd>}
        {hint === undefined ? null : <span className="font-sans text-[13px] font-normal text-soft">{hint}</span>}
      </h3>
      {children}
    </div>
  );
}

function Watchpoints({ entry, sheet, change }: { entry: EntryDetail; sheet: SheetParts; change: Change }) {
  const recording = entry.render?.recording ?? null;
  return (
    <Part title="What to look for">
      <ol className="m-0 list-none border-t border-strong-rule p-0">
        {entry.prompt.watchpoints.map((watchpoint, index) => {
          const text = watchpointText(watchpoint);
          const evidence = recording === null ? [] : listEvidence(watchpoint, recording);
          const given = markOf(sheet, text);
          return (
            <li key={text} className="flex items-start gap-2.5 border-b border-rule py-1.5">
              <span className="pt-0.5">{index < 9 ? <Kbd>{index + 1}</Kbd> : null}</span>
              <div className="min-w-0 flex-1">
                <p className="m-0">{text}</p>
                {evidence.map((line) => (
                  <p key={line} className="m-0 text-[13px] leading-[18px] break-words text-soft">
                    the recording: {line}
                  </p>
                ))}
              </div>
              <div role="group" aria-label={text} className="flex gap-1">
                {MARKS.map(({ mark, sign, word, on }) => (
                  <button
                    key={mark}
                    type="button"
                    aria-label={word}
                    aria-pressed={given === mark}
                    onClick={() => change({ watchpoints: setMark(sheet, text, given === mark ? null : mark) })}
                    className={`h-6 w-7 rounded border text-[13px] ${given === mark ? on : "border-rule bg-sheet text-ink hover:border-ink"}`}
                  >
                    {sign}
                  </button>
                ))}
              </div>
            </li>
          );
        })}
      </ol>
    </Part>
  );
}

function Marks({ marks, onChange }: { marks: number | null; onChange: (marks: number | null) => void }) {
  return (
    <div className="flex items-center gap-2">
      <Kbd>−</Kbd>
      <div role="group" aria-label="Marks out of ten" className="grid flex-1 grid-cols-11 border border-rule">
        {Array.from({ length: 11 }, (_, value) => (
          <button
            key={value}
            type="button"
            aria-pressed={marks === value}
            onClick={() => onChange(marks === value ? null : value)}
            className={`figures h-7 border-0 ${value === 0 ? "" : "border-l border-rule"} ${marks === value ? "bg-ink text-ground" : "bg-sheet text-ink hover:bg-ground"}`}
          >
            {value}
          </button>
        ))}
      </div>
      <Kbd>+</Kbd>
    </div>
  );
}

function Tags({
  field,
  tags,
  onChange,
}: {
  field: React.RefObject<HTMLInputElement | null>;
  tags: string[];
  onChange: (tags: string[]) => void;
}) {
  const [word, setWord] = useState("");
  const list = useId();
  const add = () => {
    const tag = word.trim();
    if (tag !== "" && !tags.includes(tag) && tags.length < 20) onChange([...tags, tag]);
    setWord("");
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {tags.map((tag) => (
        <span
          key={tag}
          className="inline-flex h-6 items-center gap-1 rounded border border-rule bg-sheet pl-2 text-[13px]"
        >
          {tag}
          <button
            type="button"
            aria-label={`Remove the tag ${tag}`}
            onClick={() => onChange(tags.filter((other) => other !== tag))}
            className="h-full border-0 bg-transparent px-1.5 text-soft hover:text-ink"
          >
            ×
          </button>
        </span>
      ))}
      <input
        ref={field}
        aria-label="Add a tag"
        list={list}
        maxLength={40}
        value={word}
        placeholder="add a tag"
        onChange={(event) => setWord(event.target.value)}
        onBlur={add}
        onKeyDown={(event) => {
          if (event.key !== "Enter" && event.key !== ",") return;
          event.preventDefault();
          add();
        }}
        className="h-6 w-36 rounded border border-rule bg-sheet px-2 text-[13px] text-ink placeholder:text-soft"
      />
      <datalist id={list}>
        {["favourite", "wrong program", "left out by its own words"].map((tag) => (
          <option key={tag} value={tag} />
        ))}
      </datalist>
    </div>
  );
}

function Foot({ open, isBlind }: { open: OpenSheet; isBlind: boolean }) {
  const [judge, setJudge] = useJudge();
  const [isNaming, setIsNaming] = useState(false);
  const nowMs = useNow(15_000);
  const { kept, isUnsaved, isLoading } = open;
  if (isNaming)
    return (
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setJudge(new FormData(event.currentTarget).get("judge") as string);
          setIsNaming(false);
        }}
      >
        <Field label="Whose sheets are these?" name="judge" defaultValue={judge} maxLength={60} autoFocus />
        <Button type="submit" className="mb-5">
          Keep
        </Button>
      </form>
    );
  return (
    <p className="m-0 flex flex-wrap items-center gap-x-3 text-[13px] text-soft">
      <span role="status">
        {isLoading
          ? "Opening the sheet …"
          : isUnsaved
            ? "Being kept …"
            : kept === null
              ? "Not filled in yet."
              : describeKept(kept, nowMs)}
      </span>
      <span>
        {isBlind ? "The name is hidden." : null} You judge as {judge}.
      </span>
      <Button tone="quiet" compact onClick={() => setIsNaming(true)}>
        Change the name
      </Button>
      {kept === null ? null : (
        <Button tone="quiet" compact onClick={open.clear}>
          Clear the sheet
        </Button>
      )}
    </p>
  );
}

const describeKept = ({ isBlind, judge, updatedAt }: ScoreSheet, nowMs: number): string =>
  `${isBlind ? "Seen without its name" : "Seen with its name"}, by ${judge}, ${formatAgo(updatedAt, nowMs)}.`;

/** What other people made of it, each apart. */
function Others({ sheets }: { sheets: ScoreSheet[] }) {
  return (
    <Part title="Other people's sheets">
      <ul className="m-0 list-none border-t border-rule p-0">
        {sheets.map(({ judge, verdict, marks, watchpoints, note, tags, isBlind, updatedAt }) => (
          <li key={judge} className="border-b border-rule py-1.5" title={formatExact(updatedAt)}>
            <p className="m-0">
              <span className="font-semibold">{judge}</span>{" "}
              {[
                verdict ?? "no verdict",
                ...(marks === null ? [] : [`${marks} of ten`]),
                `${watchpoints.filter(({ mark }) => mark === "met").length} of ${count(watchpoints.length, "watch-point")} met`,
                ...(isBlind ? ["without its name"] : []),
                ...tags,
              ].join(" · ")}
            </p>
            {note === "" ? null : <p className="m-0 break-words text-soft">{note}</p>}
          </li>
        ))}
      </ul>
    </Part>
  );
}

function Agreement({ editionId, judge }: { editionId: string; judge: string }) {
  const { data: judging } = useGetJudgingQuery(editionId);
  const own = judging?.agreement.find((agreement) => agreement.judge === judge);
  const judged = judging?.sheets.filter((sheet) => sheet.judge === judge && sheet.verdict !== null).length ?? 0;
  return (
    <p className="m-0 border-t border-rule pt-2 text-[13px] text-soft">
      A score sheet never enters the ratings.
      {own === undefined || own.pairs === 0
        ? null
        : ` Of ${judged} judged, your sheets and the voters agree on ${own.agreed} of ${count(own.pairs, "pair")} that both decided.`}
    </p>
  );
}
