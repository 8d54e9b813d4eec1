/** Row and column of a cell, from 0. */
export type Place = readonly [row: number, column: number];

interface Pressed {
  key: string;
  ctrlKey: boolean;
}

const PAGE_ROWS = 5;

/** Where a key leads on a grid, kept within it; null when the key moves nothing. Home and End go along the row, with Ctrl to the corners. */
export function stepFrom(
  [row, column]: Place,
  { key, ctrlKey }: Pressed,
  size: { rows: number; columns: number },
): Place | null {
  const [lastRow, lastColumn] = [size.rows - 1, size.columns - 1];
  const within = (to: Place): Place => [
    Math.min(lastRow, Math.max(0, to[0])),
    Math.min(lastColumn, Math.max(0, to[1])),
  ];
  switch (key) {
    case "ArrowUp":
      return within([row - 1, column]);
    case "ArrowDown":
      return within([row + 1, column]);
    case "ArrowLeft":
      return within([row, column - 1]);
    case "ArrowRight":
      return within([row, column + 1]);
    case "PageUp":
      return within([row - PAGE_ROWS, column]);
    case "PageDown":
      return within([row + PAGE_ROWS, column]);
    case "Home":
      return within([ctrlKey ? 0 : row, 0]);
    case "End":
      return within([ctrlKey ? lastRow : row, lastColumn]);
    default:
      return null;
  }
}
