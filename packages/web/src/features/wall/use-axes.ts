import { defaultRangeExtractor, type Range, useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useRef } from "react";

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
  /** How often keys have moved to another cell. */
  moves: number;
  rowCount: number;
  columnCount: number;
  headPx: number;
  headHeightPx: number;
  columnPx: number;
}

/** The rows and columns in sight. After each move, the active cell gets the focus. */
export function useAxes(
  scroller: React.RefObject<HTMLDivElement | null>,
  { row, column, moves, rowCount, columnCount, headPx, headHeightPx, columnPx }: Grid,
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

  const shownMoves = useRef(moves);
  // React may run the effect of an earlier drawing only after a key was handled. That drawing has the earlier count, and so leaves the focus alone.
  useEffect(() => {
    if (shownMoves.current === moves) return;
    shownMoves.current = moves;
    scroller.current?.querySelector<HTMLElement>(`[data-place="${row} ${column}"]`)?.focus({ preventScroll: true });
    rows.scrollToIndex(row);
    columns.scrollToIndex(column);
  });
  return { rows, columns };
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
    overscan: 2,
    // Both axes may move at once; they are drawn anew together, before the next frame.
    useFlushSync: false,
    rangeExtractor: (range: Range) =>
      [...new Set([...defaultRangeExtractor(range), ...(kept < count ? [kept] : [])])].sort((a, b) => a - b),
  });
  useLayoutEffect(() => axis.measure(), [axis, sizePx, startPx]);
  return axis;
}
