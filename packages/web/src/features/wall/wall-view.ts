import { FindingRule, type Wall, type WallCell } from "@tourney/core/contract";
import { tallyBy } from "@tourney/core/sheets";
import type { WallKnowledge } from "./wall-knowledge.js";

/** Whether something about a cell asks for the lead's eyes. */
export const needsLook = ({ state, findings }: WallCell): boolean =>
  ["failed", "refused", "no_artifact"].includes(state) || findings.some(({ severity }) => severity === "error");

export const COLUMN_ORDERS = {
  entered: "as entered",
  rating: "best rated first",
  cost: "cheapest first",
  time: "quickest first",
  clean: "cleanest first shots first",
  sheets: "most passes first",
} as const;
export const ROW_ORDERS = {
  suite: "as in the suite",
  trouble: "most trouble first",
  spread: "those that tell apart most first",
} as const;
/** What became of a cell, as a lead asks for it. */
export const OUTCOMES = {
  recorded: "with a page",
  none: "without a page by the model's doing",
  owed: "failed or held",
  open: "still in work",
} as const;
const STATES: Record<keyof typeof OUTCOMES, readonly WallCell["state"][]> = {
  recorded: ["recorded"],
  none: ["refused", "no_artifact"],
  owed: ["failed", "held", "missing"],
  open: ["queued", "running", "recording"],
};
/** What judges made of a cell. */
export const VERDICTS = { pass: "pass", part: "part", fail: "fail", none: "not judged" } as const;
export const ZOOMS = [4, 8, 16] as const;

/** How the wall is looked at: everything of it is in the address. */
export interface WallView {
  kind: string | null;
  onlyNeedLook: boolean;
  finding: FindingRule | null;
  maker: string | null;
  /** An entrant's key. */
  entrant: string | null;
  /** A prompt's tag. */
  tag: string | null;
  outcome: keyof typeof OUTCOMES | null;
  verdict: keyof typeof VERDICTS | null;
  /** A tag of a score sheet. */
  sheetTag: string | null;
  /** Answered on this day or later, as in 2026-01-31. */
  since: string | null;
  columns: keyof typeof COLUMN_ORDERS;
  rows: keyof typeof ROW_ORDERS;
  /** So many columns fill the width; null for as many as there are, where they fit. */
  zoom: number | null;
}

const anyOf = <T extends object>(options: T, value: string | null): keyof T | null =>
  value !== null && value in options ? (value as keyof T) : null;
const oneOf = <T extends object>(options: T, value: string | null, otherwise: keyof T): keyof T =>
  anyOf(options, value) ?? otherwise;

export const readView = (search: URLSearchParams): WallView => ({
  kind: search.get("kind"),
  onlyNeedLook: search.get("look") === "1",
  finding: FindingRule.safeParse(search.get("finding")).data ?? null,
  maker: search.get("maker"),
  entrant: search.get("entrant"),
  tag: search.get("tag"),
  outcome: anyOf(OUTCOMES, search.get("outcome")),
  verdict: anyOf(VERDICTS, search.get("verdict")),
  sheetTag: search.get("sheet"),
  since: /^\d{4}-\d\d-\d\d$/.exec(search.get("since") ?? "")?.[0] ?? null,
  columns: oneOf(COLUMN_ORDERS, search.get("columns"), "entered"),
  rows: oneOf(ROW_ORDERS, search.get("rows"), "suite"),
  zoom: ZOOMS.find((zoom) => String(zoom) === search.get("zoom")) ?? null,
});

/** Whether a cell is one of those that the filters ask for; the others of its row stay, but step back. */
export function matches(cell: WallCell, view: WallView, known: WallKnowledge): boolean {
  const { finding, onlyNeedLook, outcome, verdict, sheetTag, since } = view;
  const own = known.sheetsOf(cell.entryId);
  const verdicts = own.flatMap((sheet) => (sheet.verdict === null ? [] : [sheet.verdict]));
  return (
    (finding === null || cell.findings.some(({ rule, severity }) => rule === finding && severity !== "note")) &&
    (!onlyNeedLook || needsLook(cell)) &&
    (outcome === null || STATES[outcome].includes(cell.state)) &&
    (verdict === null ||
      (verdict === "none" ? cell.entryId !== null && verdicts.length === 0 : verdicts.includes(verdict))) &&
    (sheetTag === null || own.some(({ tags }) => tags.includes(sheetTag))) &&
    (since === null || (cell.answeredAt !== null && cell.answeredAt.slice(0, 10) >= since))
  );
}

/** Whether the filters ask for some cells and not for others. */
export const asksForCells = ({ finding, onlyNeedLook, outcome, verdict, sheetTag, since }: WallView): boolean =>
  onlyNeedLook || [finding, outcome, verdict, sheetTag, since].some((part) => part !== null);

/** Who settled what a cell needed a look for: those who have judged it. */
export const settledBy = (cell: WallCell, known: WallKnowledge): string[] =>
  needsLook(cell)
    ? known
        .sheetsOf(cell.entryId)
        .filter(({ verdict }) => verdict !== null)
        .map(({ judge }) => judge)
    : [];

const nullsLast = (a: number | null, b: number | null): number =>
  a === null || b === null ? Number(a === null) - Number(b === null) : a - b;

type Column = Wall["entrants"][number];

/** The columns that the filters leave, in the order that is asked for. */
export function arrangeColumns(
  entrants: readonly Column[],
  known: WallKnowledge,
  { maker, entrant: wanted, columns }: WallView,
): Column[] {
  const tallies = tallyBy(known.sheets, ({ versionId }) => versionId);
  const passShare = ({ version }: Column): number | null => {
    const tally = tallies.get(version.id);
    return tally === undefined || tally.judged === 0 ? null : tally.verdicts.pass / tally.judged;
  };
  const less = (value: number | null) => (value === null ? null : -value);
  const orders: Record<WallView["columns"], (column: Column) => number | null> = {
    entered: () => 0,
    rating: ({ version }) => less(known.ratingOf(version.id)),
    cost: ({ costPerEntryUsd }) => costPerEntryUsd,
    time: ({ medianTotalMs }) => medianTotalMs,
    clean: ({ cleanShare }) => less(cleanShare),
    sheets: (column) => less(passShare(column)),
  };
  const orderOf = orders[columns];
  return entrants
    .filter((entrant) => maker === null || entrant.maker === maker)
    .filter(({ key }) => wanted === null || key === wanted)
    .toSorted((a, b) => nullsLast(orderOf(a), orderOf(b)));
}

/** The rows that the filters leave, in the order that is asked for. */
export function arrangeRows(
  prompts: Wall["prompts"],
  cellsOf: (promptId: string) => readonly WallCell[],
  { view, known }: { view: WallView; known: WallKnowledge },
): Wall["prompts"] {
  const isFiltered = asksForCells(view);
  const orders: Record<WallView["rows"], (prompt: Wall["prompts"][number]) => number> = {
    suite: () => 0,
    trouble: ({ id }) => -cellsOf(id).filter(needsLook).length,
    spread: ({ id }) => -(known.spreadOf(id) ?? -1),
  };
  const orderOf = orders[view.rows];
  return prompts
    .filter(({ kind }) => view.kind === null || kind === view.kind)
    .filter(({ tags }) => view.tag === null || tags.includes(view.tag))
    .filter(({ id }) => !isFiltered || cellsOf(id).some((cell) => matches(cell, view, known)))
    .toSorted((a, b) => orderOf(a) - orderOf(b));
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
