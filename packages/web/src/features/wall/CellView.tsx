import type { Strip, StripFrame, WallCell } from "@tourney/core/contract";
import { skipToken } from "@reduxjs/toolkit/query";
import { memo, useState } from "react";
import { useGetStripQuery } from "../../api/wall-api.js";
import { frameAt, pictureUrl } from "../../ui/Picture.js";
import { FindingMark, findingWord } from "../../ui/FindingMark.js";
import { toast } from "sonner";
import { describeUnreadable, readTextFile } from "../../lib/read-text-file.js";

/** That a cell is the best of its row. */
export interface BestMark {
  word: string;
  /** By what that is known. */
  detail: string;
}

/** What voters, judges and the filters make of a cell. */
export interface CellStanding {
  /** Who has judged what it needed a look for. */
  settledBy: readonly string[];
  /** What it is the best of on its prompt. */
  bests: readonly BestMark[];
  /** Not one of those that the filters ask for: it steps back. */
  isAside: boolean;
}

/** What a cell calls when it is used. The functions stay the same while the wall scrolls; new ones would make React draw every cell again. */
export interface CellHandlers {
  onMark: (cell: WallCell) => void;
  onFan: (cell: WallCell, label: string) => void;
  onFocus: (row: number, column: number) => void;
  onOpen: (cell: WallCell) => void;
  /** An answer was pasted or dropped here. */
  onText: (cell: WallCell, text: string) => void;
}

interface CellProps {
  cell: WallCell;
  /** The edition whose wall this is. */
  edition: string;
  label: string;
  seconds: number;
  row: number;
  column: number;
  /** Where it stands in its row, in px. */
  left: number;
  width: number;
  isActive: boolean;
  /** Marked to be compared. */
  isMarked: boolean;
  standing: CellStanding;
  /** Where it is while its row or column is played, 0–1. */
  playedShare: number | null;
  handlers: CellHandlers;
}

/** One cell: the picture, scrubbed by the pointer; or the words for why there is none. */
export const CellView = memo(function CellView(props: CellProps) {
  const { cell, edition, label, seconds, row, column, left, width, isActive, isMarked, standing, handlers } = props;
  const { bests, isAside, settledBy } = standing;
  const [scrubbedShare, setShare] = useState<number | null>(null);
  const share = scrubbedShare ?? props.playedShare;
  const strip = useStrip(cell, edition, share !== null);
  const described = [
    label,
    STATE_WORDS[cell.state],
    cell.stale === null ? null : "stale",
    cell.detail,
    ...cell.findings.map(({ rule }) => findingWord(rule)),
    cell.entries > 1 ? `${cell.entries} entries` : null,
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
    if (event.key === "Enter") handlers.onOpen(cell);
    if (event.key.toLowerCase() === "f" && !event.ctrlKey && !event.metaKey) handlers.onFan(cell, label);
    if (event.key === " ") {
      event.preventDefault();
      handlers.onMark(cell);
    }
    const step = event.key === "[" ? -1 : event.key === "]" ? 1 : 0;
    if (step !== 0)
      setShare((now) =>
        Math.min(0.999, Math.max(0, (now ?? 0) + step / Math.max(1, strip.frames.length || USUAL_FRAMES))),
      );
  };
  return (
    <div
      role="gridcell"
      tabIndex={isActive ? 0 : -1}
      data-place={`${row} ${column}`}
      aria-colindex={column + 2}
      aria-label={described}
      aria-selected={isMarked}
      title={cell.detail ?? undefined}
      onFocus={() => handlers.onFocus(row, column)}
      onClick={() => handlers.onOpen(cell)}
      onKeyDown={onKeyDown}
      onMouseMove={scrub}
      onMouseLeave={() => setShare(null)}
      onPaste={(event) => handlers.onText(cell, event.clipboardData.getData("text"))}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const file = event.dataTransfer.files[0];
        const take = (text: string) => handlers.onText(cell, text);
        if (file) void readTextFile(file).then(take, (error: unknown) => toast.error(describeUnreadable(error)));
        else take(event.dataTransfer.getData("text"));
      }}
      style={{ left, width }}
      className="absolute inset-y-0 cursor-pointer contain-strict border-r border-b border-rule focus-visible:z-10 focus-visible:outline-offset-[-2px]"
    >
      <div className={`relative h-full overflow-hidden ${isAside ? "opacity-25" : ""}`}>
        {cell.picture === null ? (
          <StateCard cell={cell} />
        ) : (
          <Pictures cell={cell} picture={cell.picture} {...{ strip, share, seconds }} />
        )}
        {isMarked ? (
          <span className="absolute inset-0 border-[3px] border-act">
            <span className="absolute top-0 left-0 bg-act px-1.5 text-[11px] leading-5 text-on-act">compare</span>
          </span>
        ) : null}
        {bests.length > 0 && !isMarked && share === null ? (
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
        {cell.findings.length > 0 || cell.entries > 1 ? (
          <span className="absolute top-1 right-1 flex gap-0.5">
            {cell.entries > 1 ? <More entries={cell.entries} /> : null}
            {cell.findings.map(({ rule, severity }) => (
              <FindingMark key={rule} rule={rule} severity={severity} boxed />
            ))}
          </span>
        ) : null}
      </div>
    </div>
  );
});

const USUAL_FRAMES = 12;
const NO_PICTURES: Strip = { frames: [], sprite: null };

/** A cell's pictures, once somebody goes through them. */
function useStrip({ entryId, picture }: WallCell, edition: string, isWanted: boolean): Strip {
  const { data } = useGetStripQuery(
    isWanted && entryId !== null && picture !== null ? { entryId, edition } : skipToken,
  );
  return data ?? NO_PICTURES;
}

/** That this place has more than the entry that is shown. */
function More({ entries }: { entries: number }) {
  return (
    <span
      title={`${entries} entries: takes, turns, rounds. F shows them all.`}
      className="figures min-w-4 border border-rule bg-sheet px-1 text-center text-[11px] leading-4 text-soft"
    >
      {entries}
    </span>
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

const PICTURE = "absolute inset-0 size-full bg-sheet object-cover";

interface PicturesProps {
  cell: WallCell;
  /** What is shown at rest. */
  picture: string;
  /** All pictures, where they are there. */
  strip: Strip;
  share: number | null;
  seconds: number;
}

function Pictures({ cell: { motion, detail, stale }, picture, strip, share, seconds }: PicturesProps) {
  const isScrubbed = share !== null;
  const frame = isScrubbed ? frameAt(strip.frames, share) : undefined;
  return (
    <>
      <img src={pictureUrl(picture)} alt="" draggable={false} className={PICTURE} />
      {isScrubbed ? <ScrubbedPicture strip={strip} shown={frame} /> : null}
      {isScrubbed ? (
        <>
          <span className="absolute top-0 bottom-0 w-px bg-act" style={{ left: `${share * 100}%` }} />
          <span
            className={`absolute top-0 bg-act px-1 font-mono text-[11px] leading-4 whitespace-nowrap text-on-act ${share > 0.7 ? "-translate-x-full" : ""}`}
            style={{ left: `${share * 100}%` }}
          >
            {(Math.min(seconds * 1000, frame?.atMs ?? share * seconds * 1000) / 1000).toFixed(1)} s
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

/** The picture of one frame. The sprite of a strip has all of them: it is asked for once, and only another part of it shown. */
function ScrubbedPicture({ strip: { frames, sprite }, shown }: { strip: Strip; shown: StripFrame | undefined }) {
  if (shown === undefined) return null;
  if (sprite !== null) {
    const { frameWidth, frameHeight, columns } = sprite;
    const index = frames.indexOf(shown);
    const [left, top] = [(index % columns) * frameWidth, Math.floor(index / columns) * frameHeight];
    return (
      <svg
        aria-hidden="true"
        viewBox={`${left} ${top} ${frameWidth} ${frameHeight}`}
        preserveAspectRatio="xMidYMid slice"
        className="absolute inset-0 size-full"
      >
        <image
          href={pictureUrl(sprite.file)}
          width={columns * frameWidth}
          height={Math.ceil(frames.length / columns) * frameHeight}
        />
      </svg>
    );
  }
  return frames.map(({ atMs, thumbnail }) => (
    <img
      key={atMs}
      src={pictureUrl(thumbnail)}
      alt=""
      draggable={false}
      className={`${PICTURE} ${atMs === shown.atMs ? "" : "invisible"}`}
    />
  ));
}

/** How much moves between one picture and the next, drawn along the cell's lower edge. */
function MotionBand({ motion }: { motion: readonly number[] }) {
  // The root makes little motion visible: a boat that steers changes one pixel in a hundred.
  const bars = motion.map((share, i) => `M${i} 1h1v-${Math.min(1, Math.sqrt(share)).toFixed(2)}h-1z`).join("");
  return (
    <svg
      aria-hidden="true"
      viewBox={`0 0 ${Math.max(1, motion.length)} 1`}
      preserveAspectRatio="none"
      shapeRendering="crispEdges"
      className="absolute right-0 bottom-0 left-0 h-[3px] w-full bg-sheet"
    >
      <path d={bars} className="fill-ink" />
    </svg>
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
      <span className={`font-semibold ${isWaiting ? "breathing-words" : ""}`}>{head[state]}</span>
      {detail ? <span className="line-clamp-3 text-[12px] leading-4 text-soft">{detail}</span> : null}
      {state === "missing" && !detail ? (
        <span className="text-[12px] text-soft">not run · drop or paste an answer</span>
      ) : null}
    </div>
  );
}
