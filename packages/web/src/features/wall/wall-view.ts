import { FindingRule, type JudgedEntry, type Wall, type WallCell } from "@tourney/core/contract";
import { tallyBy } from "@tourney/core/sheets";

/** Whether something about a cell asks for the lead's eyes. */
export const needsLook = ({ state, findings }: WallCell): boolean =>
  ["failed", "refused", "no_artifact"].includes(state) || findings.some(({ severity }) => severity === "error");

export const COLUMN_ORDERS = {
  entered: "as entered",
  cost: "cheapest first",
  time: "quickest first",
  clean: "cleanest first shots first",
  sheets: "most passes first",
} as const;
export const ROW_ORDERS = { suite: "as in the suite", trouble: "most trouble first" } as const;
export const ZOOMS = [4, 8, 16] as const;

/** How the wall is looked at: everything of it is in the address. */
export interface WallView {
  kind: string | null;
  onlyNeedLook: boolean;
  finding: FindingRule | null;
  maker: string | null;
  columns: keyof typeof COLUMN_ORDERS;
  rows: keyof typeof ROW_ORDERS;
  /** So many columns fill the width; null for as many as there are, where they fit. */
  zoom: number | null;
}

const oneOf = <T extends object>(options: T, value: string | null, otherwise: keyof T): keyof T =>
  value !== null && value in options ? (value as keyof T) : otherwise;

export const readView = (search: URLSearchParams): WallView => ({
  kind: search.get("kind"),
  onlyNeedLook: search.get("look") === "1",
  finding: FindingRule.safeParse(search.get("finding")).data ?? null,
  maker: search.get("maker"),
  columns: oneOf(COLUMN_ORDERS, search.get("columns"), "entered"),
  rows: oneOf(ROW_ORDERS, search.get("rows"), "suite"),
  zoom: ZOOMS.find((zoom) => String(zoom) === search.get("zoom")) ?? null,
});

/** Whether a cell is one of those that the filters ask for; the others of its row stay, but step back. */
export const matches = (cell: WallCell, { finding, onlyNeedLook }: WallView): boolean =>
  (finding === null || cell.findings.some(({ rule, severity }) => rule === finding && severity !== "note")) &&
  (!onlyNeedLook || needsLook(cell));

const nullsLast = (a: number | null, b: number | null): number =>
  a === null || b === null ? Number(a === null) - Number(b === null) : a - b;

type Column = Wall["entrants"][number];

/** The columns that the filters leave, in the order that is asked for. */
export function arrangeColumns(
  entrants: readonly Column[],
  sheets: readonly JudgedEntry[],
  { maker, columns }: WallView,
): Column[] {
  const tallies = tallyBy(sheets, ({ versionId }) => versionId);
  const passShare = ({ version }: Column): number | null => {
    const tally = tallies.get(version.id);
    return tally === undefined || tally.judged === 0 ? null : tally.verdicts.pass / tally.judged;
  };
  const less = (value: number | null) => (value === null ? null : -value);
  const orders: Record<WallView["columns"], (column: Column) => number | null> = {
    entered: () => 0,
    cost: ({ costPerEntryUsd }) => costPerEntryUsd,
    time: ({ medianTotalMs }) => medianTotalMs,
    clean: ({ cleanShare }) => less(cleanShare),
    sheets: (column) => less(passShare(column)),
  };
  const orderOf = orders[columns];
  return entrants
    .filter((entrant) => maker === null || entrant.maker === maker)
    .toSorted((a, b) => nullsLast(orderOf(a), orderOf(b)));
}

/** The rows that the filters leave, in the order that is asked for. */
export function arrangeRows(
  prompts: Wall["prompts"],
  cellsOf: (promptId: string) => readonly WallCell[],
  view: WallView,
): Wall["prompts"] {
  const isFiltered = view.onlyNeedLook || view.finding !== null;
  const trouble = ({ id }: Wall["prompts"][number]) => cellsOf(id).filter(needsLook).length;
  return prompts
    .filter(({ kind }) => view.kind === null || kind === view.kind)
    .filter(({ id }) => !isFiltered || cellsOf(id).some((cell) => matches(cell, view)))
    .toSorted((a, b) => (view.rows === "trouble" ? trouble(b) - trouble(a) : 0));
}

/** The next place in reading order, after one or before it, whose cell is asked for; null when there is none. */
export function findNextPlace(
  from: readonly [row: number, column: number],
  by: 1 | -1,
  size: { rows: number; columns: number },
  isAsked: (row: number, column: number) => boolean,
): [row: number, column: number] | null {
  for (let at = from[0] * size.columns + from[1] + by; at >= 0 && at < size.rows * size.columns; at += by) {
    const place: [number, number] = [Math.floor(at / size.columns), at % size.columns];
    if (isAsked(...place)) return place;
  }
  return null;
}
