import type { JudgedEntry, Wall, WallCell } from "@tourney/core/contract";
import { tallyBy } from "@tourney/core/sheets";
import { defaultRangeExtractor, type Range, useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useEditionNavigate } from "../../api/edition-links.js";
import { nameOfCompetitor } from "../../lib/competitor-words.js";
import { useWidth } from "../../lib/use-width.js";
import type { AnswerTarget } from "./AnswerSheet.js";
import { CellView } from "./CellView.js";
import { RowHead, WallHead } from "./WallHeads.js";
import { type Place, stepFrom } from "./wall-steps.js";

/** Whether something about a cell asks for the lead's eyes. */
export const needsLook = ({ state, findings }: WallCell): boolean =>
  ["failed", "refused", "no_artifact"].includes(state) || findings.some(({ severity }) => severity === "error");

const HEAD_HEIGHT_PX = 88;
/** Of the line that tallies score sheets, where there are any. */
const TALLY_HEIGHT_PX = 18;
const LEAST_COLUMN_PX = 128;
/** Under this width the row heads give some of theirs to the pictures. */
const NARROW_PX = 1000;

interface WallGridProps {
  wall: Wall;
  kind: string | null;
  onlyNeedLook: boolean;
  onAnswer: (target: AnswerTarget) => void;
  /** Entries that are marked to be compared. */
  marked: readonly string[];
  onMark: (cell: WallCell) => void;
  /** Score sheets of first shots of the take that is shown. */
  sheets: readonly JudgedEntry[];
}

/**
 * The grid itself: one cell is in the tab order, arrows move it, Enter opens. Only the cells in sight are there, since a
 * wall may have thousands.
 */
export function WallGrid({ wall, kind, onlyNeedLook, onAnswer, marked, onMark, sheets }: WallGridProps) {
  const navigate = useEditionNavigate();
  const { cellOf, prompts } = useCells(wall, kind, onlyNeedLook);
  const { entrants, take } = wall;
  const tallies = useTallies(sheets);
  const headHeightPx = HEAD_HEIGHT_PX + (sheets.length > 0 ? TALLY_HEIGHT_PX : 0);
  const scroller = useRef<HTMLDivElement>(null);
  const width = useWidth(scroller);
  const headPx = width < NARROW_PX ? 128 : 176;
  const columnPx = Math.max(LEAST_COLUMN_PX, Math.floor((width - headPx) / entrants.length));
  const [active, setActive] = useState<Place>([0, 0]);
  const row = Math.min(active[0], Math.max(0, prompts.length - 1));
  const column = Math.min(active[1], entrants.length - 1);
  const { rows, columns, focusCell } = useAxes(scroller, {
    ...{ row, column, headPx, headHeightPx, columnPx },
    rowCount: prompts.length,
    columnCount: entrants.length,
  });

  const open = (prompt: Wall["prompts"][number], entrant: Wall["entrants"][number]) => {
    const { entryId, state } = cellOf(prompt.id, entrant);
    if (entryId !== null) navigate(`/entries/${entryId}`);
    else if (entrant.version.isPresent && (state === "missing" || state === "failed"))
      onAnswer({ prompt, entrant, take, text: "" });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const next = stepFrom([row, column], event, { rows: prompts.length, columns: entrants.length });
    if (next === null) return;
    event.preventDefault();
    focusCell();
    setActive(next);
  };

  if (prompts.length === 0)
    return (
      <p ref={scroller} className="m-0 flex-1 px-4 py-8 text-soft">
        Nothing here needs a look. Take the filter off to see the whole wall.
      </p>
    );
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
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
          {...{ entrants, headPx, headHeightPx }}
          columns={columns.getVirtualItems()}
          tallies={tallies.byVersion}
        />
        {rows.getVirtualItems().map((line) => {
          const prompt = prompts[line.index]!;
          return (
            <div
              key={prompt.id}
              role="row"
              aria-rowindex={line.index + 2}
              className="absolute left-0 w-full"
              style={{ top: line.start, height: line.size }}
            >
              <RowHead prompt={prompt} widthPx={headPx} tally={tallies.byPrompt.get(prompt.id)} />
              {columns.getVirtualItems().map(({ index, start, size }) => {
                const entrant = entrants[index]!;
                const cell = cellOf(prompt.id, entrant);
                return (
                  <CellView
                    key={entrant.version.id}
                    cell={cell}
                    label={`${prompt.title}, ${nameOfCompetitor({ entrant, version: entrant.version })}`}
                    seconds={prompt.seconds}
                    place={[line.index, index]}
                    box={{ left: start, width: size }}
                    isActive={row === line.index && column === index}
                    isMarked={cell.entryId !== null && marked.includes(cell.entryId)}
                    onMark={() => onMark(cell)}
                    onFocus={() => setActive([line.index, index])}
                    onOpen={() => open(prompt, entrant)}
                    onText={(text) => onAnswer({ prompt, entrant, take, text })}
                  />
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** What the score sheets come to, by column and by row. */
const useTallies = (sheets: readonly JudgedEntry[]) =>
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
  frames: [],
  motion: [],
  findings: [],
};

/** The rows that the filters leave, and each cell by its place. */
function useCells({ prompts, entrants, cells, take }: Wall, kind: string | null, onlyNeedLook: boolean) {
  return useMemo(() => {
    const byPlace = new Map(cells.map((cell) => [`${cell.promptId} ${cell.versionId}`, cell]));
    const cellOf = (promptId: string, { id, version }: Pick<Wall["entrants"][number], "id" | "version">): WallCell =>
      byPlace.get(`${promptId} ${version.id}`) ?? { promptId, entrantId: id, versionId: version.id, take, ...MISSING };
    return {
      cellOf,
      prompts: prompts
        .filter((prompt) => kind === null || prompt.kind === kind)
        .filter((prompt) => !onlyNeedLook || entrants.some((entrant) => needsLook(cellOf(prompt.id, entrant)))),
    };
  }, [prompts, entrants, cells, take, kind, onlyNeedLook]);
}

interface Axis {
  count: number;
  sizePx: number;
  /** What the sticky heads cover. */
  startPx: number;
  /** This one is there even out of sight, since it has the focus. */
  kept: number;
  horizontal?: boolean;
}

interface Grid {
  row: number;
  column: number;
  rowCount: number;
  columnCount: number;
  headPx: number;
  headHeightPx: number;
  columnPx: number;
}

/** The rows and columns in sight, and a way to have the active cell focused once it is drawn. */
function useAxes(
  scroller: React.RefObject<HTMLDivElement | null>,
  { row, column, rowCount, columnCount, headPx, headHeightPx, columnPx }: Grid,
) {
  const rows = useAxis(scroller, {
    count: rowCount,
    sizePx: Math.round((columnPx * 10) / 16),
    startPx: headHeightPx,
    kept: row,
  });
  const columns = useAxis(scroller, {
    count: columnCount,
    sizePx: columnPx,
    startPx: headPx,
    kept: column,
    horizontal: true,
  });

  const wantsFocus = useRef(false);
  useEffect(() => {
    if (!wantsFocus.current) return;
    wantsFocus.current = false;
    scroller.current?.querySelector<HTMLElement>(`[data-place="${row} ${column}"]`)?.focus({ preventScroll: true });
    rows.scrollToIndex(row);
    columns.scrollToIndex(column);
  });
  return { rows, columns, focusCell: () => (wantsFocus.current = true) };
}

function useAxis(
  scroller: React.RefObject<HTMLDivElement | null>,
  { count, sizePx, startPx, kept, horizontal = false }: Axis,
) {
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are called while drawing, never kept
  const axis = useVirtualizer({
    count,
    horizontal,
    getScrollElement: () => scroller.current,
    estimateSize: () => sizePx,
    paddingStart: startPx,
    scrollPaddingStart: startPx,
    overscan: 3,
    rangeExtractor: (range: Range) =>
      [...new Set([...defaultRangeExtractor(range), ...(kept < count ? [kept] : [])])].sort((a, b) => a - b),
  });
  useLayoutEffect(() => axis.measure(), [axis, sizePx, startPx]);
  return axis;
}
