import type { WallCell } from "@tourney/core/contract";
import { useState } from "react";
import { frameAt, pictureUrl } from "../../ui/Picture.js";
import { FindingMark, findingWord } from "../../ui/FindingMark.js";
import type { Place } from "./wall-steps.js";
import { toast } from "sonner";
import { describeUnreadable, readTextFile } from "../../lib/read-text-file.js";

/** That a cell is the best of its row. */
export interface BestMark {
  word: string;
  /** By what that is known. */
  detail: string;
}

interface CellProps {
  cell: WallCell;
  label: string;
  seconds: number;
  place: Place;
  /** Where it stands in its row, in px. */
  box: { left: number; width: number };
  isActive: boolean;
  /** Not one of those that the filters ask for: it steps back. */
  isAside: boolean;
  /** Marked to be compared. */
  isMarked: boolean;
  /** Who has judged what it needed a look for. */
  settledBy: readonly string[];
  /** What it is the best of on its prompt. */
  bests: readonly BestMark[];
  /** Where it is while its row or column is played, 0–1. */
  playedShare: number | null;
  onMark: () => void;
  onFan: (cell: WallCell, label: string) => void;
  onFocus: () => void;
  onOpen: () => void;
  /** An answer was pasted or dropped here. */
  onText: (text: string) => void;
}

/** Notes are told on the entry; the wall marks what may be wrong. */
export const isMarked = ({ severity }: WallCell["findings"][number]): boolean => severity !== "note";

/** One cell: the picture, scrubbed by the pointer; or the words for why there is none. */
export function CellView(props: CellProps) {
  const { cell, label, seconds, place, box, isActive, isAside, isMarked: isChosen } = props;
  const { settledBy, bests, playedShare, onMark, onFan, onFocus, onOpen, onText } = props;
  const [scrubbedShare, setShare] = useState<number | null>(null);
  const share = scrubbedShare ?? playedShare;
  const marks = [...new Map(cell.findings.filter(isMarked).map((finding) => [finding.rule, finding])).values()];
  const described = [
    label,
    STATE_WORDS[cell.state],
    cell.stale === null ? null : "stale",
    cell.detail,
    ...marks.map(({ rule }) => findingWord(rule)),
    settledBy.length === 0 ? null : `settled by ${settledBy.join(" and ")}`,
    ...bests.map(({ detail }) => detail),
  ]
    .filter((part) => part)
    .join(", ");
  const scrub = (event: React.MouseEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    setShare((event.clientX - box.left) / box.width);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === "Enter") onOpen();
    if (event.key.toLowerCase() === "f" && !event.ctrlKey && !event.metaKey) onFan(cell, label);
    if (event.key === " ") {
      event.preventDefault();
      onMark();
    }
    const step = event.key === "[" ? -1 : event.key === "]" ? 1 : 0;
    if (step !== 0)
      setShare((now) => Math.min(0.999, Math.max(0, (now ?? 0) + step / Math.max(1, cell.frames.length))));
  };
  return (
    <div
      role="gridcell"
      tabIndex={isActive ? 0 : -1}
      data-place={place.join(" ")}
      aria-colindex={place[1] + 2}
      aria-label={described}
      aria-selected={isChosen}
      title={cell.detail ?? undefined}
      onFocus={onFocus}
      onClick={onOpen}
      onKeyDown={onKeyDown}
      onMouseMove={scrub}
      onMouseLeave={() => setShare(null)}
      onPaste={(event) => onText(event.clipboardData.getData("text"))}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const file = event.dataTransfer.files[0];
        if (file) void readTextFile(file).then(onText, (error: unknown) => toast.error(describeUnreadable(error)));
        else onText(event.dataTransfer.getData("text"));
      }}
      style={box}
      className="absolute inset-y-0 cursor-pointer border-r border-b border-rule focus-visible:z-10 focus-visible:outline-offset-[-2px]"
    >
      <div className={`relative h-full overflow-hidden ${isAside ? "opacity-25" : ""}`}>
        {cell.frames.length > 0 ? <Strip cell={cell} share={share} seconds={seconds} /> : <StateCard cell={cell} />}
        {isChosen ? (
          <span className="absolute inset-0 border-[3px] border-act">
            <span className="absolute top-0 left-0 bg-act px-1.5 text-[11px] leading-5 text-on-act">compare</span>
          </span>
        ) : null}
        {bests.length > 0 && !isChosen ? (
          <span className="absolute top-0 left-0 flex bg-ink text-[11px] leading-4 text-ground">
            {bests.map(({ word, detail }) => (
              <span key={word} title={detail} className="px-1">
                {word}
              </span>
            ))}
          </span>
        ) : null}
        {settledBy.length > 0 ? (
          <span className="absolute right-1 bottom-1 max-w-[calc(100%-8px)] truncate bg-sheet px-1 text-[11px] leading-4 text-soft">
            settled by {settledBy.join(" and ")}
          </span>
        ) : null}
        {marks.length > 0 ? (
          <span className="absolute top-1 right-1 flex gap-0.5">
            {marks.map(({ rule, severity }) => (
              <FindingMark key={rule} rule={rule} severity={severity} boxed />
            ))}
          </span>
        ) : null}
      </div>
    </div>
  );
}

const STALE_WORDS: Record<NonNullable<WallCell["stale"]>, string> = {
  renderer: "Recorded by an older renderer; not to be compared with newer recordings",
  recipe: "Recorded by another recipe than this edition's: another walkthrough, length or viewport",
};

const STATE_WORDS: Record<WallCell["state"], string> = {
  missing: "not run",
  queued: "queued",
  running: "being answered",
  held: "held by the budget",
  recording: "being recorded",
  recorded: "recorded",
  failed: "failed",
  refused: "declined",
  no_artifact: "no page",
};

function Strip({
  cell: { frames, motion, detail, stale },
  share,
  seconds,
}: {
  cell: WallCell;
  share: number | null;
  seconds: number;
}) {
  // At rest the cell shows the middle of the clip: the first frame is often a page that has only begun.
  const frame = frameAt(frames, share ?? 0.5)!;
  const isScrubbed = share !== null;
  return (
    <>
      {(isScrubbed ? frames : [frame]).map(({ atMs, thumbnail }) => (
        <img
          key={atMs}
          src={pictureUrl(thumbnail)}
          alt=""
          draggable={false}
          className={`absolute inset-0 size-full bg-sheet object-cover ${atMs === frame.atMs ? "" : "invisible"}`}
        />
      ))}
      {isScrubbed ? (
        <>
          <span className="absolute top-0 bottom-0 w-px bg-act" style={{ left: `${share * 100}%` }} />
          <span
            className={`absolute top-0 bg-act px-1 font-mono text-[11px] leading-4 text-on-act ${share > 0.7 ? "-translate-x-full" : ""}`}
            style={{ left: `${share * 100}%` }}
          >
            {(Math.min(seconds * 1000, frame.atMs) / 1000).toFixed(1)} s
          </span>
        </>
      ) : null}
      {stale !== null && !isScrubbed ? (
        <span
          title={STALE_WORDS[stale]}
          className="absolute top-1 left-1 border border-rule bg-sheet px-1 text-[11px] leading-4 text-care-ink"
        >
          stale
        </span>
      ) : null}
      {detail ? (
        <span className="absolute bottom-1 left-1 max-w-[calc(100%-8px)] truncate bg-sheet px-1 text-[11px] leading-4 text-care-ink">
          {detail}
        </span>
      ) : null}
      <MotionBand motion={motion} />
    </>
  );
}

/** How much moves between one picture and the next, drawn along the cell's lower edge. */
function MotionBand({ motion }: { motion: readonly number[] }) {
  return (
    <span aria-hidden="true" className="absolute right-0 bottom-0 left-0 flex h-[3px] items-end bg-sheet">
      {motion.map((share, i) => (
        // The root makes little motion visible: a boat that steers changes one pixel in a hundred.
        <span key={i} className="flex-1 bg-ink" style={{ height: `${Math.min(1, Math.sqrt(share)) * 100}%` }} />
      ))}
    </span>
  );
}

/** Cells without a picture differ by pattern and words, not by colour. */
function StateCard({ cell: { state, detail, findings } }: { cell: WallCell }) {
  const blank = findings.find(({ rule }) => rule === "blank");
  const patterns: Partial<Record<WallCell["state"], string>> = {
    failed: "hatched",
    held: "border border-dashed border-care",
    no_artifact: "hatched",
    running: "bg-sheet",
    recording: "bg-sheet",
    refused: "bg-sheet",
  };
  const head: Record<WallCell["state"], string> = {
    ...STATE_WORDS,
    missing: "",
    queued: "Queued",
    running: "Answering …",
    held: "Held: budget",
    recording: "Recording …",
    recorded: blank?.message ?? "",
    failed: "No answer",
    refused: "Declined to answer",
    no_artifact: "No page",
  };
  const isWaiting = state === "running" || state === "recording";
  return (
    <div
      className={`grid size-full content-center gap-0.5 px-3 ${patterns[state] ?? ""} ${state === "queued" ? "border border-dashed border-rule" : ""}`}
    >
      <span className={`font-semibold ${isWaiting ? "breathing" : ""}`}>{head[state]}</span>
      {detail ? <span className="line-clamp-3 text-[12px] leading-4 text-soft">{detail}</span> : null}
      {state === "missing" && !detail ? (
        <span className="text-[12px] text-soft">not run · drop or paste an answer</span>
      ) : null}
    </div>
  );
}
