import type { Wall, WallCell } from "@tourney/core/contract";
import { tallyBy } from "@tourney/core/sheets";
import { type KeyboardEvent, useMemo, useRef, useState } from "react";
import { useEditionNavigate } from "../../api/edition-links.js";
import { useSteady } from "../../lib/use-steady.js";
import { useWidth } from "../../lib/use-width.js";
import type { AnswerTarget } from "./AnswerSheet.js";
import type { BestMark, CellHandlers, CellStanding } from "./CellView.js";
import { useAxes } from "./use-axes.js";
import { usePlay } from "./use-play.js";
import { WallHead } from "./WallHeads.js";
import { type WallCells, WallRow } from "./WallRow.js";
import type { WallKnowledge } from "./wall-knowledge.js";
import {
  arrangeColumns,
  arrangeRows,
  asksForCells,
  findNextPlace,
  matches,
  needsLook,
  settledBy,
  type WallView,
} from "./wall-view.js";
import { type Place, stepFrom } from "./wall-steps.js";

const HEAD_HEIGHT_PX = 88;
/** Of the line that tallies score sheets, where there are any. */
const TALLY_HEIGHT_PX = 18;
const LEAST_COLUMN_PX = 128;
const LEAST_ZOOMED_PX = 56;
/** Under this width the row heads give some of theirs to the pictures. */
const NARROW_PX = 1000;

interface WallGridProps {
  wall: Wall;
  view: WallView;
  onAnswer: (target: AnswerTarget) => void;
  /** Entries that are marked to be compared. */
  marked: readonly string[];
  onMark: (cell: WallCell) => void;
  /** All that was made for a cell is to be shown. */
  onFan: (cell: WallCell, label: string) => void;
  known: WallKnowledge;
}

/**
 * The grid itself: one cell is in the tab order, arrows move it, Enter opens. Only the cells in sight are there, since a
 * wall may have thousands.
 */
export function WallGrid({ wall, view, onAnswer, marked, onMark, onFan, known }: WallGridProps) {
  const { cells, prompts, entrants } = useCells(wall, view, known);
  const tallies = useTallies(known);
  const play = usePlay(prompts);
  const headHeightPx = HEAD_HEIGHT_PX + (known.sheets.length > 0 ? TALLY_HEIGHT_PX : 0);
  const scroller = useRef<HTMLDivElement>(null);
  const width = useWidth(scroller);
  const headPx = width < NARROW_PX ? 128 : 176;
  const columnPx = columnWidth(width - headPx, entrants.length, view.zoom);
  const [active, setActive] = useState<{ at: Place; moves: number }>({ at: [0, 0], moves: 0 });
  const row = Math.min(active.at[0], Math.max(0, prompts.length - 1));
  const column = Math.min(active.at[1], entrants.length - 1);
  const { rows, columns } = useAxes(scroller, {
    ...{ row, column, moves: active.moves, headPx, headHeightPx, columnPx },
    rowCount: prompts.length,
    columnCount: entrants.length,
  });

  const onFocus = (...at: Place) => setActive(({ moves }) => ({ at, moves }));
  const handlers = useCellHandlers(wall, { onAnswer, onMark, onFan, onFocus });
  const playRow = useSteady(play.row);
  const playColumn = useSteady(play.column);
  const onKeyDown = listenToGrid({
    from: [row, column],
    size: { rows: prompts.length, columns: entrants.length },
    isAskedAt: (r, c) => isAsked(cells.cellOf(prompts[r]!.id, entrants[c]!), view, known),
    onPlay: ([r, c], axis) => (axis === "row" ? play.row(prompts[r]!.id) : play.column(entrants[c]!.version.id)),
    onMove: (at) => setActive(({ moves }) => ({ at, moves: moves + 1 })),
  });

  if (prompts.length === 0 || entrants.length === 0)
    return (
      <p ref={scroller} className="m-0 flex-1 px-4 py-8 text-soft">
        Nothing here is what the filters ask for. Take one off to see more of the wall.
      </p>
    );
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto bg-ground will-change-transform">
      <div
        role="grid"
        aria-label="Entries by prompt and entrant"
        aria-rowcount={prompts.length + 1}
        aria-colcount={entrants.length + 1}
        onKeyDown={onKeyDown}
        className="relative"
        style={{ width: columns.getTotalSize(), height: rows.getTotalSize() }}
      >
        <WallHead
          {...{ entrants, headPx, headHeightPx, known }}
          playedId={play.played?.axis === "column" ? play.played.id : null}
          onPlay={playColumn}
          columns={columns.getVirtualItems()}
          tallies={tallies.byVersion}
        />
        {rows.getVirtualItems().map(({ index, start, size }) => (
          <WallRow
            key={prompts[index]!.id}
            {...{ index, headPx, entrants, cells, known, marked, handlers }}
            prompt={prompts[index]!}
            top={start}
            height={size}
            edition={wall.edition.id}
            columns={columns.getVirtualItems()}
            tally={tallies.byPrompt.get(prompts[index]!.id)}
            activeColumn={row === index ? column : null}
            played={play.playedOf(prompts[index]!.id)}
            onPlay={playRow}
          />
        ))}
      </div>
    </div>
  );
}

/** What is done with cells: an entry is opened, or an answer is asked for where there is none to open. */
function useCellHandlers(
  { prompts, entrants, take, round }: Wall,
  {
    onAnswer,
    onMark,
    onFan,
    onFocus,
  }: Pick<WallGridProps, "onAnswer" | "onMark" | "onFan"> & Pick<CellHandlers, "onFocus">,
): CellHandlers {
  const navigate = useEditionNavigate();
  const answer = ({ promptId, versionId }: WallCell, text: string) => {
    const prompt = prompts.find(({ id }) => id === promptId);
    const entrant = entrants.find(({ version }) => version.id === versionId);
    // What an older set-up answered, and what came of a mend, cannot be written in by hand.
    if (round === 0 && prompt && entrant?.version.isPresent) onAnswer({ prompt, entrant, take, text });
  };
  const onOpen = useSteady((cell: WallCell) => {
    if (cell.entryId !== null) navigate(`/entries/${cell.entryId}`);
    else if (cell.state === "missing" || cell.state === "failed") answer(cell, "");
  });
  const mark = useSteady(onMark);
  const fan = useSteady(onFan);
  const focus = useSteady(onFocus);
  const onText = useSteady(answer);
  return useMemo(
    () => ({ onMark: mark, onFan: fan, onFocus: focus, onText, onOpen }),
    [mark, fan, focus, onText, onOpen],
  );
}

interface GridKeys {
  from: Place;
  size: { rows: number; columns: number };
  isAskedAt: (row: number, column: number) => boolean;
  onPlay: (at: Place, axis: "row" | "column") => void;
  onMove: (to: Place) => void;
}

/** J and K lead to the next cell that is asked for, P plays, the others move as on any grid. */
const listenToGrid =
  ({ from, size, isAskedAt, onPlay, onMove }: GridKeys) =>
  (event: KeyboardEvent) => {
    const hasChord = event.ctrlKey || event.metaKey || event.altKey;
    if (!hasChord && event.key.toLowerCase() === "p") onPlay(from, event.shiftKey ? "column" : "row");
    const by = hasChord ? 0 : event.key === "j" ? 1 : event.key === "k" ? -1 : 0;
    const next = by === 0 ? stepFrom(from, event, size) : findNextPlace(from, by, size, isAskedAt);
    if (next === null) return;
    event.preventDefault();
    onMove(next);
  };

/** What the score sheets come to, by column and by row. */
const useTallies = ({ sheets }: WallKnowledge) =>
  useMemo(
    () => ({
      byVersion: tallyBy(sheets, (sheet) => sheet.versionId),
      byPrompt: tallyBy(sheets, (sheet) => sheet.promptId),
    }),
    [sheets],
  );

const MISSING: Omit<WallCell, "promptId" | "entrantId" | "versionId" | "take"> = {
  state: "missing",
  detail: null,
  mismatch: false,
  keptFromVoters: false,
  stale: null,
  entryId: null,
  verdict: null,
  answeredAt: null,
  picture: null,
  motion: [],
  findings: [],
  entries: 0,
};

/** The rows and columns that the filters leave, in their order, and each cell by its place: the same object each time it is asked for. */
function useCells(wall: Wall, view: WallView, known: WallKnowledge) {
  const { prompts, entrants, take, round } = wall;
  return useMemo(() => {
    const byPlace = new Map(wall.cells.map((cell) => [`${cell.promptId} ${cell.versionId}`, cell]));
    const cellOf = (promptId: string, { id, version }: Pick<Wall["entrants"][number], "id" | "version">): WallCell => {
      const place = `${promptId} ${version.id}`;
      const there = byPlace.get(place);
      if (there !== undefined) return there;
      const detail = round === 0 ? null : `No round ${round}`;
      const missing = { promptId, entrantId: id, versionId: version.id, take, ...MISSING, detail };
      byPlace.set(place, missing);
      return missing;
    };
    const standings = new WeakMap<WallCell, CellStanding>();
    const standingOf = (cell: WallCell): CellStanding => {
      const standing = standings.get(cell) ?? describeStanding(cell, view, known);
      standings.set(cell, standing);
      return standing;
    };
    const columns = arrangeColumns(entrants, known, view);
    const cellsOf = (promptId: string) => columns.map((column) => cellOf(promptId, column));
    const cells: WallCells = { cellOf, standingOf };
    return { cells, entrants: columns, prompts: arrangeRows(prompts, cellsOf, { view, known }) };
  }, [prompts, entrants, wall.cells, take, round, view, known]);
}

/** J and K go through what the filters ask for; without a filter, through what needs a look. What a judge has settled is passed over. */
const isAsked = (cell: WallCell, view: WallView, known: WallKnowledge): boolean =>
  asksForCells(view)
    ? matches(cell, view, known) && !(view.onlyNeedLook && settledBy(cell, known).length > 0)
    : needsLook(cell) && settledBy(cell, known).length === 0;

/** What voters, judges and the filters make of a cell. */
function describeStanding(cell: WallCell, view: WallView, known: WallKnowledge): CellStanding {
  const settlers = settledBy(cell, known);
  return {
    settledBy: settlers,
    bests: listBests(cell, known),
    isAside: !matches(cell, view, known) || (view.onlyNeedLook && settlers.length > 0),
  };
}

/** What a cell is the best of on its prompt. */
function listBests({ promptId, versionId, entryId }: WallCell, known: WallKnowledge): BestMark[] {
  if (entryId === null) return [];
  const marks = [
    { word: "best", best: known.bestOf(promptId) },
    { word: "best for nothing", best: known.bestForNothingOf(promptId) },
  ];
  return marks.flatMap(({ word, best }) =>
    best?.versionId === versionId ? [{ word, detail: `${word} so far, by ${best.by}` }] : [],
  );
}

/** Wide enough for a head where nothing else is asked for; as many as are asked for in the width otherwise. */
function columnWidth(roomPx: number, columns: number, zoom: number | null): number {
  if (zoom !== null) return Math.max(LEAST_ZOOMED_PX, Math.floor(roomPx / zoom));
  return Math.max(LEAST_COLUMN_PX, Math.floor(roomPx / Math.max(1, columns)));
}
