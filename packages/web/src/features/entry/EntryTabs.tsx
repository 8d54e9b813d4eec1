import { type Attempt, type EntryDetail } from "@tourney/core/contract";
import { Tabs } from "radix-ui";
import { useSearchParams } from "react-router";
import { count, formatExact, formatMs, formatUsd } from "../../lib/format.js";
import { MendByHand } from "./EntryRounds.js";
import { Button } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { useChoosePartMutation, useListAttemptsQuery } from "./entry-api.js";
import { FindingMark } from "../../ui/FindingMark.js";
import { RuleGuide } from "../../ui/RuleGuide.js";
import { isJudging } from "./Judging.js";
import { SheetTab } from "./SheetTab.js";
import { CodePlace, Listing, readPlace } from "./CodeListing.js";
import { InputsTab } from "./InputsTab.js";
import { LoadTab } from "./LoadTab.js";
import { RecordedUnder } from "./RecordedUnder.js";

/** Findings, log, code, answer and request of an entry; the tab is part of the address. */
export function EntryTabs({ entry, isBlind }: { entry: EntryDetail; isBlind: boolean }) {
  const [search, setSearch] = useSearchParams();
  const recording = entry.render?.recording ?? null;
  const tabs = [
    { key: "sheet", label: "Score sheet", panel: <SheetTab entry={entry} isBlind={isBlind} /> },
    {
      key: "findings",
      label: `Findings ${recording?.findings.length ?? 0}`,
      panel: <Findings entry={entry} isBlind={isBlind} />,
    },
    { key: "inputs", label: `Inputs ${recording?.steps.length ?? 0}`, panel: <InputsTab entry={entry} /> },
    { key: "load", label: "Load", panel: <LoadTab entry={entry} /> },
    { key: "log", label: `Log ${recording?.console.length ?? 0}`, panel: <Log entry={entry} /> },
    // Code, answer and request may tell who made it.
    ...(isBlind
      ? []
      : [
          {
            key: "code",
            label: entry.files.length > 1 ? `Code ${entry.files.length}` : "Code",
            panel: <Code entry={entry} />,
          },
          { key: "answer", label: "Answer", panel: <Answer entry={entry} /> },
          { key: "request", label: "Request", panel: <Request entry={entry} /> },
        ]),
  ];
  const tab = tabs.some(({ key }) => key === search.get("tab"))
    ? search.get("tab")!
    : isJudging(search)
      ? "sheet"
      : "findings";
  return (
    <Tabs.Root
      value={tab}
      onValueChange={(key) => setSearch((now) => ({ ...Object.fromEntries(now), tab: key }), { replace: true })}
      className="min-w-0 p-4"
    >
      <Tabs.List aria-label="What is known about this entry" className="flex flex-wrap gap-x-3 border-b border-rule">
        {tabs.map(({ key, label }) => (
          <Tabs.Trigger
            key={key}
            value={key}
            className="figures -mb-px border-0 border-b-2 border-transparent bg-transparent px-0 pb-2 font-display whitespace-nowrap font-semibold text-soft hover:text-ink data-[state=active]:border-ink data-[state=active]:text-ink"
          >
            {label}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {tabs.map(({ key, panel }) => (
        <Tabs.Content key={key} value={key} className="pt-3">
          {panel}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}

const seconds = (ms: number | null) => (ms === null ? "" : `${(ms / 1000).toFixed(1)} s`);

function Findings({ entry, isBlind }: { entry: EntryDetail; isBlind: boolean }) {
  const recording = entry.render?.recording ?? null;
  return (
    <>
      {isBlind ? null : <Admissions entry={entry} />}
      {recording === null ? (
        <p className="mt-0 text-soft">
          {entry.render?.error ?? (entry.render ? "It is being recorded." : "There is nothing to record.")}
        </p>
      ) : null}
      {recording?.findings.length === 0 ? (
        <p className="mt-0 text-sound">✓ The recording found nothing wrong by itself.</p>
      ) : null}
      <ul className="m-0 list-none p-0">
        {recording?.findings.map(({ rule, severity, message, atMs, evidence, followsFrom }) => (
          <li key={`${rule}${message}`} className="flex gap-3 border-b border-rule py-2">
            <span className="pt-0.5">
              <FindingMark rule={rule} severity={severity} />
            </span>
            <div className="min-w-0 flex-1">
              <p className="m-0 font-semibold break-words">{message}</p>
              <p className="m-0 break-all text-soft">
                <CodePlace text={evidence} entry={entry} />
              </p>
              {followsFrom === null ? null : (
                <p className="m-0 break-words text-soft">
                  Follows from what is missing here, and is not held against the page: {followsFrom}.
                </p>
              )}
            </div>
            <span className="figures text-soft">{seconds(atMs)}</span>
          </li>
        ))}
      </ul>
      <p className="mt-1 mb-0 -ml-2.5">
        <RuleGuide />
      </p>
      {recording && entry.render ? <RecordedUnder recording={recording} renderId={entry.render.id} /> : null}
    </>
  );
}

function Log({ entry }: { entry: EntryDetail }) {
  const lines = entry.render?.recording?.console ?? [];
  if (lines.length === 0) return <p className="mt-0 text-soft">The page said nothing.</p>;
  return (
    <ol className="m-0 list-none p-0 font-mono text-[12px] leading-[18px]">
      {lines.map((line, index) => (
        <li key={index} className="grid grid-cols-[48px_64px_1fr] gap-2 border-b border-rule py-1">
          <span className="text-soft">{seconds(line.atMs)}</span>
          <span
            className={
              line.level === "error" ? "text-broken" : line.level === "warning" ? "text-care-ink" : "text-soft"
            }
          >
            {line.level}
          </span>
          <span className="min-w-0 break-words whitespace-pre-wrap">
            {line.text}{" "}
            {line.where ? (
              <span className="text-soft">
                <CodePlace text={line.where} entry={entry} />
              </span>
            ) : null}
          </span>
        </li>
      ))}
    </ol>
  );
}

function Code({ entry }: { entry: EntryDetail }) {
  const [search] = useSearchParams();
  const place = readPlace(search.get("place") ?? "", entry);
  return (
    <>
      {entry.fileTexts.map(({ path, text }) => (
        <figure key={path} className="m-0 mb-4">
          <figcaption className="mb-1 font-mono text-[12px] font-semibold">{path}</figcaption>
          <Listing text={text} line={place?.path === path ? place.line : null} />
        </figure>
      ))}
      <p className="mt-0 mb-3">
        <MendByHand entry={entry} />
      </p>
      {entry.handMended ? (
        <figure className="m-0 mb-4">
          <figcaption className="mb-1 font-semibold">What was changed by hand</figcaption>
          <Listing text={entry.handMended.diff} />
        </figure>
      ) : null}
      <Facts facts={entry.facts} />
      <h2 className="mt-2 mb-1 text-[15px]">How it was taken out of the answer</h2>
      <ul className="m-0 list-none p-0">
        {entry.trace.map(({ part, action, why }) => (
          <li key={`${part}${action}${why}`} className="border-b border-rule py-1.5">
            <span className="font-semibold">{action}</span> {part}: <span className="text-soft">{why}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

const PURPOSES: Record<Attempt["purpose"], string> = {
  first: "first",
  retry: "again after a failure",
  repeat: "repeated: the process had ended",
  continuation: "continued",
  again: "asked again",
};

function describeUsage(usage: EntryDetail["generation"]["usage"]): string {
  if (usage === null) return "not said";
  const { inputTokens, outputTokens, cachedInputTokens, reasoningTokens } = usage;
  const n = (value: number | null) => value?.toLocaleString("en") ?? "?";
  const cached = cachedInputTokens ? ` (${n(cachedInputTokens)} cached)` : "";
  const reasoning = reasoningTokens ? ` (${n(reasoningTokens)} reasoning)` : "";
  return `${n(inputTokens)} in${cached} · ${n(outputTokens)} out${reasoning}`;
}

/** Every request that was sent, also those that came to nothing, with what the endpoint said. */
function Attempts({ generationId }: { generationId: string }) {
  const { currentData: attempts = [] } = useListAttemptsQuery(generationId);
  if (attempts.length === 0) return null;
  return (
    <>
      <h2 className="mt-5 mb-1 text-[15px]">Requests, in order</h2>
      <ol className="m-0 list-none p-0">
        {attempts.map(
          ({ number, purpose, sentAt, outcome, message, textLength, totalMs, costUsd, costIsEstimate, headers }) => (
            <li key={number} className="border-b border-rule py-1.5">
              <span className="font-semibold">{number}</span> {PURPOSES[purpose]} ·{" "}
              {outcome?.replaceAll("_", " ") ?? "in flight"}
              <span className="text-soft">
                {" "}
                · {count(textLength, "character")} in {formatMs(totalMs)} · {formatUsd(costUsd)}
                {costIsEstimate ? " (estimated)" : ""} · sent {formatExact(sentAt)}
              </span>
              {message ? <span className="block text-broken">{message}</span> : null}
              {headers && Object.keys(headers).length > 0 ? (
                <details className="text-[12px] text-soft">
                  <summary className="cursor-pointer">Response headers</summary>
                  {Object.entries(headers).map(([name, value]) => (
                    <p key={name} className="m-0 pl-4 font-mono break-all">
                      {name}: {value}
                    </p>
                  ))}
                </details>
              ) : null}
            </li>
          ),
        )}
      </ol>
    </>
  );
}

/** What extraction tells of the files: what is missing or comes from elsewhere, rules that are not kept, names that tell its maker. */
function Facts({ facts: { missing, remote, ruleBreaks, leaks } }: { facts: EntryDetail["facts"] }) {
  const groups = [
    ["Breaks the prompt's rules", ruleBreaks.map(({ message, file }) => [message, file])],
    ["Asks for what it does not bring", missing.map(({ path, kind, file }) => [`${path} (${kind})`, file])],
    [
      "Loads from public hosts",
      remote.map(({ url, library, version, file }) => [
        [library, version].filter((part) => part !== null).join(" ") || url,
        file,
      ]),
    ],
    [
      "May tell its maker; names are dots in the voters' copy",
      leaks.map(({ text, where, confidence, file }) => [
        `“${text}” ${where === "screen" ? "seen when it was recorded" : `in ${where}`}, ${confidence} confidence`,
        file,
      ]),
    ],
  ] as const;
  return groups
    .filter(([, items]) => items.length > 0)
    .map(([title, items]) => (
      <section key={title}>
        <h2 className="mt-2 mb-1 text-[15px]">{title}</h2>
        <ul className="m-0 mb-3 list-none p-0">
          {items.map(([text, file], index) => (
            <li key={index} className="border-b border-rule py-1.5 break-words">
              {text} <span className="font-mono text-[12px] text-soft">{file}</span>
            </li>
          ))}
        </ul>
      </section>
    ));
}

/** Code with its line numbers, as one text that can be selected without them. */
function Answer({ entry }: { entry: EntryDetail }) {
  return (
    <>
      <OtherParts entry={entry} />
      <Admissions entry={entry} />
      <Reasoning entry={entry} />
      <pre
        tabIndex={0}
        className="m-0 max-h-[640px] overflow-auto border border-rule bg-sheet p-3 font-mono text-[12px] leading-[18px] break-words whitespace-pre-wrap"
      >
        {entry.generation.answer}
      </pre>
    </>
  );
}

/** What the answer itself says that it left out; nothing where it says nothing of the sort. */
function Admissions({ entry: { generation } }: { entry: EntryDetail }) {
  if (generation.admissions.length === 0) return null;
  return (
    <section aria-label="Left out by its own words" className="mb-3 border-l-2 border-care pl-3">
      <p className="m-0 font-semibold">Left out by its own words</p>
      <ul className="m-0 list-none p-0 text-[13px]">
        {generation.admissions.map((sentence) => (
          <li key={sentence}>“{sentence}”</li>
        ))}
      </ul>
    </section>
  );
}

function Reasoning({ entry: { generation } }: { entry: EntryDetail }) {
  if (generation.reasoning === null || generation.reasoning === "") return null;
  return (
    <details className="mb-3">
      <summary className="cursor-pointer font-semibold">
        Reasoning{" "}
        <span className="font-normal text-soft">
          {count(generation.reasoning.length, "character")} before the answer
        </span>
      </summary>
      <pre
        tabIndex={0}
        className="mt-2 mb-0 max-h-[420px] overflow-auto border border-rule bg-sheet p-3 font-mono text-[12px] leading-[18px] break-words whitespace-pre-wrap"
      >
        {generation.reasoning}
      </pre>
    </details>
  );
}

/** The pages that an answer holds, of which another may be meant than the one that was taken. */
function OtherParts({ entry }: { entry: EntryDetail }) {
  const [choose, { isLoading, error }] = useChoosePartMutation();
  if (entry.facts.choices.length < 2) return null;
  const taken = new Set(entry.trace.filter(({ action }) => action === "taken").map(({ part }) => part));
  return (
    <section aria-label="Pages in this answer" className="mb-3 border-b border-rule pb-3">
      <p className="mt-0 mb-1 font-semibold">The answer holds {count(entry.facts.choices.length, "page")}</p>
      {error ? <ErrorNotice error={error} /> : null}
      <ul className="m-0 list-none p-0">
        {entry.facts.choices.map((part) => (
          <li key={part} className="flex items-center gap-3 py-0.5">
            <span className="min-w-0 flex-1">{part}</span>
            {taken.has(part) ? (
              <span className="text-sound">✓ taken</span>
            ) : (
              <Button
                compact
                disabled={isLoading}
                title="It is recorded and may be voted on; ballots on the page taken so far are set aside"
                onClick={() => void choose({ entryId: entry.id, part })}
              >
                Take this one
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Request({ entry: { generation } }: { entry: EntryDetail }) {
  const { requestedModel, reportedModel, finishReason, attempts, answeredAt, request, timings, usage } = generation;
  const rows = [
    ["Asked for", requestedModel],
    ["Reported back", reportedModel ?? "nothing"],
    ["Stopped because", finishReason ?? "not said"],
    ["Requests", String(attempts)],
    ["Waited", formatMs(timings?.queuedMs ?? null)],
    ["First token", formatMs(timings?.firstTokenMs ?? null)],
    ["… of the answer", formatMs(timings?.firstTextMs ?? null)],
    ["Tokens", describeUsage(usage)],
    ["Answered", answeredAt === null ? "not yet" : formatExact(answeredAt)],
  ] as const;
  return (
    <>
      <dl className="m-0 grid grid-cols-[140px_1fr] gap-y-1">
        {rows.map(([term, value]) => (
          <div key={term} className="contents">
            <dt className="text-soft">{term}</dt>
            <dd className="m-0 break-words">{value}</dd>
          </div>
        ))}
      </dl>
      <Attempts generationId={generation.id} />
      <h2 className="mt-5 mb-1 text-[15px]">The request as it was sent</h2>
      <pre
        tabIndex={0}
        className="m-0 max-h-96 overflow-auto border border-rule bg-sheet p-3 font-mono text-[12px] leading-[18px] whitespace-pre-wrap"
      >
        {request === null || request === undefined
          ? "None: the answer came by hand."
          : JSON.stringify(request, null, 2)}
      </pre>
    </>
  );
}
