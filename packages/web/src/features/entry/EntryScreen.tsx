import type { EntryDetail, Recording } from "@tourney/core/contract";
import { describeInput } from "@tourney/core/page";
import { useRef, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { useGetEntryQuery } from "../../api/entry-api.js";
import { EditionLink, useEditionInAddress } from "../../api/edition-links.js";
import { useFollow } from "../../api/use-follow.js";
import { toast } from "sonner";
import { formatMs, formatUsd } from "../../lib/format.js";
import { Button, Toggle } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { frameAt, pictureUrl } from "../../ui/Picture.js";
import { Stage } from "../../ui/Stage.js";
import { CorrectAll, EntryRounds } from "./EntryRounds.js";
import { EntryNotices, MarkAnswer, MendEntry, RedoTake } from "./EntryStanding.js";
import { EntryTabs } from "./EntryTabs.js";
import { LiveTools, sizeOf } from "./LiveTools.js";
import { readScope } from "./judge-queue.js";
import { isJudging, JudgeBar } from "./Judging.js";
import { useKeys } from "../../lib/use-keys.js";
import { useRecordAgainMutation } from "./entry-api.js";
import { CompareEntry } from "./CompareEntry.js";
import { LeaveOut } from "./LeaveOut.js";
import { WholePage } from "./WholePage.js";

/** One entry: the live page in its sandbox beside everything known about it. */
export function EntryScreen() {
  const { entryId = "" } = useParams();
  const [search] = useSearchParams();
  const {
    currentData: entry,
    error,
    refetch,
  } = useGetEntryQuery({ entryId, edition: useEditionInAddress() ?? undefined });
  useFollow(refetch, { about: ["cells"], everyMs: 1000 });
  if (entry === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the entry" />;
  const isBlind = isJudging(search) && readScope(search).isBlind;
  return (
    <main className="flex min-h-full flex-col">
      <EntryHead entry={entry} isBlind={isBlind} />
      {isJudging(search) ? <JudgeBar entryId={entry.id} editionId={entry.editionId} /> : null}
      {isBlind ? null : <EntryNotices entry={entry} />}
      {isBlind ? null : <EntryRounds entry={entry} />}
      <div className="grid flex-1 grid-cols-[minmax(0,3fr)_minmax(0,2fr)] max-[900px]:grid-cols-1">
        <div className="border-r border-strong-rule p-4 max-[900px]:border-r-0">
          <Viewer entry={entry} isBlind={isBlind} />
          {isBlind ? null : <Numbers entry={entry} />}
        </div>
        <EntryTabs entry={entry} isBlind={isBlind} />
      </div>
    </main>
  );
}

function EntryHead({ entry, isBlind }: { entry: EntryDetail; isBlind: boolean }) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule px-4 py-2.5">
      <EditionLink to="/wall" className="text-ink no-underline hover:underline">
        ← Wall
      </EditionLink>
      <h1 className="m-0 text-[20px] leading-7">{entry.prompt.title}</h1>
      {isBlind ? <p className="m-0 text-soft">The name is hidden while you judge.</p> : <NamedHead entry={entry} />}
    </div>
  );
}

function NamedHead({ entry }: { entry: EntryDetail }) {
  const [recordAgain, { isLoading }] = useRecordAgainMutation();
  const again = async () => {
    const result = await recordAgain({ entryId: entry.id, stress: false });
    if (result.data) toast.success("It is being recorded again.");
    else toast.error("It could not be queued for recording.");
  };
  return (
    <>
      <p className="m-0 flex items-center gap-1.5">
        <EntrantGlyph glyph={entry.entrant.glyph} />
        <span className="font-display font-semibold">{entry.entrant.name}</span>
        <span className="text-soft">
          {entry.entrant.maker} · take {entry.take}
          {entry.version.isPresent && entry.version.number === 1 ? "" : ` · version ${entry.version.number}`}
          {entry.rounds.length > 1 ? "" : " · first shot"}
          {entry.generation.byHand ? " · by hand" : ""}
        </span>
        {entry.entrant.sample ? <span className="text-care-ink">sample data</span> : null}
      </p>
      <span className="ml-auto" />
      <CompareEntry entry={entry} />
      <LeaveOut entry={entry} />
      <MarkAnswer entry={entry} />
      <RedoTake entry={entry} />
      <MendEntry entry={entry} />
      <CorrectAll entry={entry} />
      <Button
        disabled={isLoading || entry.entryPath === null || entry.render?.state === "queued"}
        onClick={() => void again()}
      >
        {entry.render?.state === "queued" ? "Recording …" : "Record again"}
      </Button>
    </>
  );
}

function Viewer({ entry, isBlind }: { entry: EntryDetail; isBlind: boolean }) {
  const [search, setSearch] = useSearchParams();
  const [restart, setRestart] = useState(0);
  const [hasKeys, setHasKeys] = useState(false);
  const [atMs, setAtMs] = useState<number | null>(null);
  const [size, setSize] = useState<number | null>(null);
  const [isLoud, setIsLoud] = useState(false);
  const [isAway, setIsAway] = useState(false);
  useKeys((event) => {
    if (event.key.toLowerCase() === "m") setIsLoud((now) => !now);
  });
  const stage = useRef<HTMLDivElement>(null);
  const recording = entry.render?.recording ?? null;
  const view = search.get("view");
  const whole = view === "whole" ? (recording?.whole ?? null) : null;
  const isLive = whole === null && view !== "recording" && entry.liveUrl !== null;
  const show = (view: "live" | "recording" | "whole") =>
    setSearch((now) => ({ ...Object.fromEntries(now), view }), { replace: true });
  const frame =
    recording?.frames.find((item) => item.atMs === atMs) ?? (recording ? frameAt(recording.frames, 0.5) : undefined);
  return (
    <>
      <div ref={stage} className={`border bg-sheet ${hasKeys ? "border-act" : "border-rule"}`}>
        {whole !== null ? (
          <WholePage entry={entry} whole={whole} />
        ) : isLive ? (
          <div className="mx-auto" style={size === null ? {} : { maxWidth: size }}>
            <Stage
              url={entry.liveUrl!}
              title={`${entry.prompt.title}${isBlind ? "" : ` by ${entry.entrant.name}`}, live`}
              viewport={sizeOf(entry.prompt.viewport, size)}
              restart={restart}
              held={{ hasBegun: true, isLoud, onReady: () => setIsAway(false), onAway: setIsAway }}
              onFocusChange={setHasKeys}
            />
          </div>
        ) : frame ? (
          <img
            src={pictureUrl(frame.file)}
            alt={`${entry.prompt.title} at ${(frame.atMs / 1000).toFixed(1)} s`}
            className="block w-full"
          />
        ) : (
          <NothingToShow entry={entry} />
        )}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        <Toggle pressed={isLive} disabled={entry.liveUrl === null} onClick={() => show("live")}>
          Live
        </Toggle>
        <Toggle pressed={!isLive && whole === null} disabled={recording === null} onClick={() => show("recording")}>
          Recording
        </Toggle>
        {recording?.whole ? (
          <Toggle pressed={whole !== null} onClick={() => show("whole")}>
            Whole page
          </Toggle>
        ) : null}
        {isLive ? (
          <LiveTools
            {...{ entry, isBlind, size }}
            onSize={setSize}
            isLoud={isLoud}
            onSound={() => setIsLoud(!isLoud)}
            onRestart={() => setRestart(restart + 1)}
            onFullView={() => void stage.current?.requestFullscreen()}
          />
        ) : null}
        <span role="status" className="ml-auto text-soft">
          {isLive && isAway ? "The page has gone elsewhere; Restart brings it back. " : ""}
          {hasKeys ? "Keys: the page's · Esc takes them back" : "Keys: yours"}
        </span>
      </div>
      {recording ? (
        <Filmstrip
          recording={recording}
          chosenMs={isLive || whole !== null ? null : (frame?.atMs ?? null)}
          onChoose={(ms) => {
            setAtMs(ms);
            show("recording");
          }}
        />
      ) : null}
      {recording && recording.views.length > 0 ? <FurtherViews views={recording.views} /> : null}
    </>
  );
}

/** The page at the prompt's further viewports, all to one height so that their shapes compare. */
function FurtherViews({ views }: { views: Recording["views"] }) {
  return (
    <ul aria-label="At other sizes" className="m-0 mt-2 flex list-none gap-4 overflow-x-auto p-0">
      {views.map(({ viewport: { width, height }, frame }) => (
        <li key={`${width} ${height}`}>
          <a href={pictureUrl(frame.file)} target="_blank" rel="noreferrer">
            <img
              src={pictureUrl(frame.thumbnail)}
              alt={`At ${width} × ${height} px`}
              className="block h-40 w-auto border border-rule"
            />
          </a>
          <span className="figures font-mono text-[11px] text-soft">
            {width} × {height}
          </span>
        </li>
      ))}
    </ul>
  );
}

function NothingToShow({ entry }: { entry: EntryDetail }) {
  const words: Partial<Record<EntryDetail["verdict"], string>> = {
    refusal: "Declined to answer",
    empty: "Empty answer",
    no_artifact: "Nothing a browser can run",
  };
  return (
    <div className="hatched grid aspect-[16/10] place-items-center">
      <p className="m-0 bg-ground px-3 py-2 font-semibold">
        {words[entry.verdict] ?? entry.render?.error ?? "Not recorded yet"}
      </p>
    </div>
  );
}

function Filmstrip({
  recording,
  chosenMs,
  onChoose,
}: {
  recording: Recording;
  chosenMs: number | null;
  onChoose: (atMs: number) => void;
}) {
  const errors = recording.findings.filter(({ severity, atMs }) => severity === "error" && atMs !== null);
  const last = recording.frames.at(-1)?.atMs ?? 1;
  return (
    <div className="mt-3">
      <ol className="m-0 flex list-none gap-0.5 p-0" aria-label="Filmstrip">
        {recording.frames.map(({ atMs, thumbnail }) => (
          <li key={atMs} className="min-w-0 flex-1">
            <button
              type="button"
              aria-label={`Frame at ${(atMs / 1000).toFixed(1)} s`}
              aria-pressed={chosenMs === atMs}
              onClick={() => onChoose(atMs)}
              className={`block w-full border-2 p-0 ${chosenMs === atMs ? "border-act" : "border-transparent hover:border-ink"}`}
            >
              <img src={pictureUrl(thumbnail)} alt="" className="block w-full" />
            </button>
            <span className="figures font-mono text-[11px] text-soft">{(atMs / 1000).toFixed(1)}</span>
          </li>
        ))}
      </ol>
      <div className="relative h-4" aria-hidden="true">
        {recording.steps.map(({ atMs, input, control, effect }, index) => (
          <span
            key={index}
            title={`${describeInput(input, control)} at ${(atMs / 1000).toFixed(1)} s`}
            className={`absolute top-0 h-2 w-0.5 ${effect === "none" ? "bg-broken" : "bg-ink"}`}
            style={{ left: `${Math.min(100, (atMs / last) * 100)}%` }}
          />
        ))}
        {errors.map(({ atMs, message }) => (
          <svg
            key={`${atMs}${message}`}
            width="10"
            height="9"
            viewBox="0 0 10 9"
            className="absolute -translate-x-1/2 fill-broken"
            style={{ left: `${(atMs! / last) * 100}%` }}
          >
            <path d="M5 0 10 9H0Z" />
          </svg>
        ))}
      </div>
    </div>
  );
}

/** When the answer itself began, after any reasoning, and how fast tokens came once they did. */
function describeTimings(
  { firstTokenMs, firstTextMs, totalMs }: NonNullable<EntryDetail["generation"]["timings"]>,
  usage: EntryDetail["generation"]["usage"],
): string {
  const streamedS = firstTokenMs === null ? 0 : (totalMs - firstTokenMs) / 1000;
  const tokens = usage?.outputTokens ?? null;
  return [
    ...(firstTokenMs === null ? [] : [`first token ${formatMs(firstTokenMs)}`]),
    ...(firstTextMs === null || firstTextMs === firstTokenMs ? [] : [`of the answer ${formatMs(firstTextMs)}`]),
    ...(tokens === null || streamedS <= 0 ? [] : [`${Math.round(tokens / streamedS)} tokens/s`]),
  ].join(" · ");
}

function Numbers({ entry: { generation, render, files } }: { entry: EntryDetail }) {
  const { usage, timings, costUsd } = generation;
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  const figures = [
    {
      value: formatUsd(costUsd),
      label: usage ? `${usage.inputTokens ?? "?"} in · ${usage.outputTokens ?? "?"} out` : "cost not known",
    },
    {
      value: formatMs(timings?.totalMs ?? null),
      label: timings ? describeTimings(timings, usage) : "no timings: by hand",
    },
    { value: `${(bytes / 1000).toFixed(1)} kB`, label: files.length === 1 ? "one file" : `${files.length} files` },
    {
      value: render?.recording ? formatMs(render.recording.metrics.wallMs) : "—",
      label: render?.recording ? `to record ${render.recording.seconds} s` : "not recorded",
    },
  ];
  return (
    <dl className="figures m-0 mt-4 grid grid-cols-[1fr_1.6fr_1fr_1fr] gap-x-4 border-t border-strong-rule">
      {figures.map(({ value, label }) => (
        <div key={label} className="pt-2">
          <dd className="m-0 font-display text-[18px] leading-6 font-semibold">{value}</dd>
          <dt className="text-[12px] text-soft">{label}</dt>
        </div>
      ))}
    </dl>
  );
}
