import type { JudgedEntry, Wall } from "@tourney/core/contract";

/** Which entries of the wall a judge goes through, and whether names are hidden meanwhile. */
export interface JudgeScope {
  kind: string | null;
  entrantId: string | null;
  take: number;
  isBlind: boolean;
}

/** The scope that an address names. */
export const readScope = (search: URLSearchParams): JudgeScope => ({
  kind: search.get("kind"),
  entrantId: search.get("entrant"),
  take: Math.max(1, Math.round(Number(search.get("take"))) || 1),
  isBlind: search.get("blind") === "1",
});

/** A fixed disorder: the same for the same entry, and no trace of who made it. */
function shuffleKey(entryId: string): number {
  let hash = 2_166_136_261;
  for (const character of entryId) hash = Math.imul(hash ^ character.charCodeAt(0), 16_777_619);
  return hash >>> 0;
}

/**
 * The entries to be judged, prompt by prompt: in the order of the wall's columns, or shuffled within each prompt where names are hidden,
 * since the order of the columns would tell them.
 */
export function listQueue(wall: Wall, { kind, entrantId, isBlind }: JudgeScope): string[] {
  const column = new Map(wall.entrants.map(({ version }, index) => [version.id, index]));
  const row = new Map(wall.prompts.map(({ id }, index) => [id, index]));
  const kinds = new Map(wall.prompts.map((prompt) => [prompt.id, prompt.kind]));
  return wall.cells
    .filter(
      (cell) =>
        cell.entryId !== null &&
        (kind === null || kinds.get(cell.promptId) === kind) &&
        (entrantId === null || cell.entrantId === entrantId),
    )
    .map((cell) => ({
      entryId: cell.entryId!,
      row: row.get(cell.promptId) ?? 0,
      place: isBlind ? shuffleKey(cell.entryId!) : (column.get(cell.versionId) ?? 0),
    }))
    .toSorted((a, b) => a.row - b.row || a.place - b.place)
    .map(({ entryId }) => entryId);
}

/** Entries on which a judge has given a verdict. */
export const listJudged = (sheets: readonly JudgedEntry[], judge: string): Set<string> =>
  new Set(sheets.filter((sheet) => sheet.judge === judge && sheet.verdict !== null).map(({ entryId }) => entryId));

/** The next entry of the queue without a verdict, after the present one and then from the beginning; null when all have one. */
export function findNextUnjudged(
  queue: readonly string[],
  judged: ReadonlySet<string>,
  after: string | null,
): string | null {
  const at = after === null ? -1 : queue.indexOf(after);
  const turned = [...queue.slice(at + 1), ...queue.slice(0, at + 1)];
  return turned.find((entryId) => !judged.has(entryId) && entryId !== after) ?? null;
}

/** The neighbour of an entry in the queue; null at either end, and for one that is not in it. */
export function stepInQueue(queue: readonly string[], from: string, by: 1 | -1): string | null {
  const at = queue.indexOf(from);
  return at === -1 ? null : (queue[at + by] ?? null);
}
