import type { CellState, Wall, WallCell } from "@tourney/core/contract";
import { median } from "@tourney/core/stats";
import type { EntrantService } from "../entrants/service.js";
import type { SuiteService } from "../suites/service.js";
import type { CellRow, WallRepository } from "./repository.js";

/** What a cell shows, and the one line that says why where something is wrong. */
export function describeCell(row: CellRow): { state: CellState; detail: string | null } {
  const failure = row.failures.at(-1);
  if (row.state === "waiting") return { state: "queued", detail: "Waits for the stage before" };
  if (row.state === "held") return { state: "held", detail: row.outcomeDetail };
  if (row.state === "queued" || row.state === "admitted")
    return { state: "queued", detail: failure ? `${failure.message} Trying again.` : null };
  if (row.state === "running") return { state: "running", detail: null };
  if (row.state === "cancelled") return { state: "missing", detail: "Cancelled" };
  if (row.state === "failed") return { state: "failed", detail: failure?.message ?? "No answer" };
  if (row.verdict === null) {
    const isStuck = failure?.cause === "storage";
    return {
      state: "recording",
      detail: isStuck ? `${failure.message} ${failure.remedy} It is tried again by itself.` : "Taking out the artifact",
    };
  }
  if (row.verdict === "refusal" || row.outcome === "refused") return { state: "refused", detail: "Declined to answer" };
  if (row.entryPath === null)
    return { state: "no_artifact", detail: row.verdict === "empty" ? "Empty answer" : "Nothing a browser can run" };
  if (row.renderState === "recorded") return { state: "recorded", detail: describeRecorded(row) };
  if (row.renderState === "failed") return { state: "failed", detail: row.renderError };
  return { state: "recording", detail: null };
}

/** What the lead should know of an entry that is there: another model answered, or not what was asked for. */
function describeRecorded({ verdict, outcome, outcomeDetail, reportedModel, requestedModel }: CellRow): string | null {
  if (isMismatch(reportedModel, requestedModel)) return `Answered by ${reportedModel!}, asked for ${requestedModel}`;
  if (outcome === "wrong_thing") return outcomeDetail;
  return verdict === "truncated" ? "Cut off" : null;
}

/** A reported name may add a date or a build to the one that was asked for; anything else is another model. */
export const isMismatch = (reported: string | null, requested: string): boolean =>
  reported !== null &&
  reported !== requested &&
  !reported.startsWith(`${requested}-`) &&
  !requested.endsWith(`/${reported}`);

/** Per entrant: the figures of its first shots. */
export function summarizeEntrant(rows: readonly CellRow[]) {
  const recorded = rows.filter(({ renderState, findings }) => renderState === "recorded" && findings !== null);
  const clean = recorded.filter(
    ({ findings, verdict }) => verdict === "ok" && !findings!.some(({ severity }) => severity === "error"),
  );
  const tried = rows.filter(
    ({ state, verdict, renderState }) =>
      state === "answered" &&
      (renderState === "recorded" || (verdict !== null && verdict !== "ok" && verdict !== "truncated")),
  );
  const costs = rows.map(({ costUsd }) => costUsd).filter((cost) => cost !== null);
  return {
    cleanShare: tried.length === 0 ? null : clean.length / tried.length,
    medianTotalMs: median(rows.map(({ totalMs }) => totalMs).filter((ms) => ms !== null)),
    costPerEntryUsd: costs.length === 0 ? null : costs.reduce((sum, cost) => sum + cost, 0) / costs.length,
  };
}

export function createWallService({
  wall,
  suites,
  entrants,
}: {
  wall: WallRepository;
  suites: SuiteService;
  entrants: EntrantService;
}) {
  return {
    async getWall(editionId: string): Promise<Wall> {
      const [edition, allEntrants, rows] = await Promise.all([
        suites.getEdition(editionId),
        entrants.list(),
        wall.listCells(editionId),
      ]);
      const takes = rows.reduce((most, { take }) => Math.max(most, take), 1);
      const at = new Map(rows.map((row) => [`${row.promptId} ${row.entrantId} ${row.take}`, row]));
      const cells: WallCell[] = [];
      for (const { id: promptId } of edition.prompts) {
        for (const { id: entrantId } of allEntrants) {
          for (let take = 1; take <= takes; take++) {
            cells.push(toCell({ promptId, entrantId, take }, at.get(`${promptId} ${entrantId} ${take}`)));
          }
        }
      }
      return {
        edition: { ...edition, promptCount: edition.prompts.length },
        prompts: edition.prompts,
        entrants: allEntrants.map((entrant) => ({
          ...entrant,
          byHand: entrant.endpoint.protocol === "by-hand",
          retired: entrant.retiredAt !== null,
          ...summarizeEntrant(rows.filter(({ entrantId }) => entrantId === entrant.id)),
        })),
        takes,
        cells,
      };
    },
  };
}
export type WallService = ReturnType<typeof createWallService>;

function toCell(place: Pick<WallCell, "promptId" | "entrantId" | "take">, row: CellRow | undefined): WallCell {
  if (!row)
    return {
      ...place,
      state: "missing",
      detail: null,
      mismatch: false,
      entryId: null,
      verdict: null,
      frames: [],
      motion: [],
      findings: [],
    };
  const { entryId, verdict, frames, motion, findings } = row;
  return {
    ...place,
    ...describeCell(row),
    mismatch: isMismatch(row.reportedModel, row.requestedModel),
    entryId,
    verdict,
    frames: frames ?? [],
    motion: motion ?? [],
    findings: findings ?? [],
  };
}
