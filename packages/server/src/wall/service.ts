import {
  type CellState,
  type Entrant,
  type Grid,
  RENDERER_VERSION,
  type Wall,
  type WallCell,
} from "@tourney/core/contract";
import { median } from "@tourney/core/stats";
import type { EntrantService } from "../entrants/service.js";
import type { SuiteService } from "../suites/service.js";
import type { CellFacts, CellRow, CellStanding, WallRepository } from "./repository.js";

type EntrantFigures = Pick<Wall["entrants"][number], "cleanShare" | "medianTotalMs" | "costPerEntryUsd">;

/** What a cell shows, and the one line that says why where something is wrong. */
export function describeCell(row: CellRow): { state: CellState; detail: string | null } {
  const state = stateOf(row);
  return { state, detail: detailOf(state, row) };
}

/** The state of a cell by how far it has come. */
export function stateOf({ state, verdict, outcome, hasPage, renderState }: CellStanding): CellState {
  switch (state) {
    case "waiting":
    case "queued":
    case "admitted":
      return "queued";
    case "cancelled":
      return "missing";
    case "held":
    case "running":
    case "failed":
      return state;
    case "answered":
      if (verdict === null) return "recording";
      if (verdict === "refusal" || outcome === "refused") return "refused";
      if (!hasPage) return "no_artifact";
      return renderState === null || renderState === "queued" ? "recording" : renderState;
  }
}

function detailOf(state: CellState, row: CellRow): string | null {
  const failure = row.failures.at(-1);
  switch (state) {
    case "queued":
      if (row.state === "waiting") return "Waits for the stage before";
      return failure ? `${failure.message} Trying again.` : null;
    case "held":
      return row.outcomeDetail;
    case "running":
      return null;
    case "missing":
      return "Cancelled";
    case "failed":
      return row.renderState === "failed" ? row.renderError : (failure?.message ?? "No answer");
    case "refused":
      return "Declined to answer";
    case "no_artifact":
      return row.verdict === "empty" ? "Empty answer" : "Nothing a browser can run";
    case "recorded":
      return describeRecorded(row);
    case "recording":
      if (row.verdict !== null) return null;
      return failure?.cause === "storage"
        ? `${failure.message} ${failure.remedy} It is tried again by itself.`
        : "Taking out the artifact";
  }
}

/** What the lead should know of an entry that is there: another model answered, or not what was asked for. */
function describeRecorded({
  verdict,
  outcome,
  outcomeDetail,
  isMismatch,
  reportedModel,
  requestedModel,
}: CellRow): string | null {
  if (isMismatch) return `Answered by ${reportedModel!}, asked for ${requestedModel}`;
  if (outcome === "wrong_thing") return outcomeDetail;
  return verdict === "truncated" ? "Cut off" : null;
}

/** The figures of an entrant's first shots, from its counted cells. */
export function summarizeEntrant(facts: readonly CellFacts[]): EntrantFigures {
  const count = (wanted: (fact: CellFacts) => boolean) =>
    facts.reduce((sum, fact) => sum + (wanted(fact) ? fact.cells : 0), 0);
  const clean = count(
    ({ renderState, hasError, verdict }) => renderState === "recorded" && verdict === "ok" && !hasError,
  );
  const tried = count(
    ({ state, verdict, renderState }) =>
      state === "answered" &&
      (renderState === "recorded" || (verdict !== null && verdict !== "ok" && verdict !== "truncated")),
  );
  const costed = facts.reduce((sum, fact) => sum + fact.costed, 0);
  return {
    cleanShare: tried === 0 ? null : clean / tried,
    medianTotalMs: median(facts.flatMap(({ totalsMs }) => totalsMs)),
    costPerEntryUsd: costed === 0 ? null : facts.reduce((sum, { costUsd }) => sum + (costUsd ?? 0), 0) / costed,
  };
}

interface WallDeps {
  wall: WallRepository;
  suites: SuiteService;
  entrants: EntrantService;
}

export function createWallService({ wall, suites, entrants }: WallDeps) {
  /** Every take's facts, and each entrant with the figures that follow from them. */
  async function listFigures(editionId: string) {
    const [all, facts] = await Promise.all([entrants.list(), wall.listFacts(editionId)]);
    const byEntrant = new Map(all.map(({ id }): [string, CellFacts[]] => [id, []]));
    for (const fact of facts) byEntrant.get(fact.entrantId)?.push(fact);
    return {
      facts,
      entrants: all.map((entrant) => ({ entrant, ...summarizeEntrant(byEntrant.get(entrant.id)!) })),
    };
  }
  return {
    listFigures,
    async getWall(editionId: string, take = 1): Promise<Wall> {
      const [edition, figures, rows] = await Promise.all([
        suites.getEdition(editionId),
        listFigures(editionId),
        wall.listCells(editionId, take),
      ]);
      return {
        edition: { ...edition, promptCount: edition.prompts.length },
        prompts: edition.prompts,
        entrants: figures.entrants.map(({ entrant, ...numbers }) => ({ ...toColumn(entrant), ...numbers })),
        takes: figures.facts.reduce((most, fact) => Math.max(most, fact.takes), 1),
        take,
        cells: rows.map(toCell),
      };
    },
    async getGrid(editionId: string): Promise<Grid> {
      const [edition, all, rows] = await Promise.all([
        suites.getEdition(editionId),
        entrants.list(),
        wall.listGrid(editionId),
      ]);
      const at = new Map(rows.map(({ promptId, entrantId, there }) => [`${promptId} ${entrantId}`, there]));
      return {
        editionId,
        prompts: edition.prompts,
        entrants: all.map(toColumn),
        there: edition.prompts.map(({ id }) => all.map((entrant) => at.get(`${id} ${entrant.id}`) ?? 0)),
      };
    },
  };
}
export type WallService = ReturnType<typeof createWallService>;

const toColumn = (entrant: Entrant) => ({
  ...entrant,
  byHand: entrant.endpoint.protocol === "by-hand",
  retired: entrant.retiredAt !== null,
});

function toCell(row: CellRow): WallCell {
  const { promptId, entrantId, take, entryId, verdict, isMismatch, rendererVersion, frames, motion, findings } = row;
  return {
    ...{ promptId, entrantId, take, entryId, verdict },
    ...describeCell(row),
    mismatch: isMismatch,
    stale: rendererVersion !== null && rendererVersion !== RENDERER_VERSION,
    frames: frames ?? [],
    motion: motion ?? [],
    findings: findings ?? [],
  };
}
