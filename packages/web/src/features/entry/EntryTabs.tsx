import type { EntryDetail } from "@tourney/core/contract";
import { Tabs } from "radix-ui";
import { useSearchParams } from "react-router";
import { count, formatExact } from "../../lib/format.js";
import { FindingMark } from "../../ui/FindingMark.js";

/** Findings, log, code, answer and request of an entry; the tab is part of the address. */
export function EntryTabs({ entry }: { entry: EntryDetail }) {
  const [search, setSearch] = useSearchParams();
  const recording = entry.render?.recording ?? null;
  const tabs = [
    { key: "findings", label: `Findings ${recording?.findings.length ?? 0}`, panel: <Findings entry={entry} /> },
    { key: "log", label: `Log ${recording?.console.length ?? 0}`, panel: <Log entry={entry} /> },
    { key: "code", label: `Code ${count(entry.files.length, "file")}`, panel: <Code entry={entry} /> },
    { key: "answer", label: "Answer", panel: <Answer entry={entry} /> },
    { key: "request", label: "Request", panel: <Request entry={entry} /> },
  ];
  const tab = tabs.some(({ key }) => key === search.get("tab")) ? search.get("tab")! : "findings";
  return (
    <Tabs.Root
      value={tab}
      onValueChange={(key) => setSearch((now) => ({ ...Object.fromEntries(now), tab: key }), { replace: true })}
      className="min-w-0 p-4"
    >
      <Tabs.List aria-label="What is known about this entry" className="flex gap-5 border-b border-rule">
        {tabs.map(({ key, label }) => (
          <Tabs.Trigger
            key={key}
            value={key}
            className="figures -mb-px border-0 border-b-2 border-transparent bg-transparent px-0 pb-2 font-display font-semibold text-soft hover:text-ink data-[state=active]:border-ink data-[state=active]:text-ink"
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

function Findings({ entry }: { entry: EntryDetail }) {
  const recording = entry.render?.recording ?? null;
  return (
    <>
      {recording === null ? (
        <p className="mt-0 text-soft">
          {entry.render?.error ?? (entry.render ? "It is being recorded." : "There is nothing to record.")}
        </p>
      ) : null}
      {recording?.findings.length === 0 ? (
        <p className="mt-0 text-sound">✓ The recording found nothing wrong by itself.</p>
      ) : null}
      <ul className="m-0 list-none p-0">
        {recording?.findings.map(({ rule, severity, message, atMs, evidence }) => (
          <li key={`${rule}${message}`} className="flex gap-3 border-b border-rule py-2">
            <span className="pt-0.5">
              <FindingMark rule={rule} severity={severity} />
            </span>
            <div className="min-w-0 flex-1">
              <p className="m-0 font-semibold break-words">{message}</p>
              <p className="m-0 break-all text-soft">{evidence}</p>
            </div>
            <span className="figures text-soft">{seconds(atMs)}</span>
          </li>
        ))}
      </ul>
      <h2 className="mt-5 mb-1 text-[15px]">What to look for</h2>
      <ul className="m-0 list-none p-0">
        {entry.prompt.watchpoints.map((watchpoint) => (
          <li key={watchpoint} className="border-b border-rule py-1.5">
            {watchpoint}
          </li>
        ))}
      </ul>
      {recording ? <RecordedUnder recording={recording} /> : null}
    </>
  );
}

function RecordedUnder({ recording }: { recording: NonNullable<NonNullable<EntryDetail["render"]>["recording"]> }) {
  const { isolation, viewport, seed, rendererVersion, clock, outcome, outcomeDetail } = recording;
  const contained = [
    isolation.sandbox ? "sandbox on" : "no sandbox",
    isolation.unprivilegedUser ? "unprivileged user" : "same user",
    isolation.networkNamespace ? "empty network namespace" : "network shut by flags",
  ];
  return (
    <p className="mt-4 text-[12px] text-soft">
      Outcome {outcome}
      {outcomeDetail ? ` (${outcomeDetail})` : ""}. Recorded at {viewport.width} × {viewport.height} px with a {clock}{" "}
      clock, seed {seed}, {contained.join(", ")}; renderer {rendererVersion}.
    </p>
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
            {line.text} {line.where ? <span className="text-soft">{line.where}</span> : null}
          </span>
        </li>
      ))}
    </ol>
  );
}

function Code({ entry }: { entry: EntryDetail }) {
  return (
    <>
      {entry.fileTexts.map(({ path, text }) => (
        <figure key={path} className="m-0 mb-4">
          <figcaption className="mb-1 font-mono text-[12px] font-semibold">{path}</figcaption>
          <Listing text={text} />
        </figure>
      ))}
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

/** Code with its line numbers, as one text that can be selected without them. */
function Listing({ text }: { text: string }) {
  const lines = text.split("\n");
  return (
    <div className="grid max-h-[420px] grid-cols-[auto_1fr] overflow-auto border border-rule bg-sheet font-mono text-[12px] leading-[18px]">
      <pre aria-hidden="true" className="m-0 border-r border-rule px-2 py-2 text-right text-soft select-none">
        {lines.map((_, i) => i + 1).join("\n")}
      </pre>
      <pre tabIndex={0} className="m-0 px-3 py-2">
        {text}
      </pre>
    </div>
  );
}

function Answer({ entry }: { entry: EntryDetail }) {
  return (
    <pre className="m-0 max-h-[640px] overflow-auto border border-rule bg-sheet p-3 font-mono text-[12px] leading-[18px] break-words whitespace-pre-wrap">
      {entry.generation.answer}
    </pre>
  );
}

function Request({ entry: { generation } }: { entry: EntryDetail }) {
  const { requestedModel, reportedModel, finishReason, attempts, failures, answeredAt, request } = generation;
  const rows = [
    ["Asked for", requestedModel],
    ["Reported back", reportedModel ?? "nothing"],
    ["Stopped because", finishReason ?? "not said"],
    ["Attempts", String(attempts)],
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
      {failures.length > 0 ? (
        <>
          <h2 className="mt-5 mb-1 text-[15px]">Before that</h2>
          <ul className="m-0 list-none p-0">
            {failures.map(({ at, cause, message }) => (
              <li key={at} className="border-b border-rule py-1.5">
                <span className="font-semibold">{cause.replaceAll("_", " ")}</span> {message}
              </li>
            ))}
          </ul>
        </>
      ) : null}
      <h2 className="mt-5 mb-1 text-[15px]">The request as it was sent</h2>
      <pre className="m-0 max-h-96 overflow-auto border border-rule bg-sheet p-3 font-mono text-[12px] leading-[18px] whitespace-pre-wrap">
        {request === null || request === undefined
          ? "None: the answer came by hand."
          : JSON.stringify(request, null, 2)}
      </pre>
    </>
  );
}
