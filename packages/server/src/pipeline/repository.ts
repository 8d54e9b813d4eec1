import type { ScopeProgress } from "@tourney/core/pipeline";
import type { Database } from "../db/connection.js";
import { FAILED, FailedRow, FINDINGS, FindingRow, PROGRESS, ProgressRow } from "./pipeline-queries.sql.js";

/** The places that a script runs: prompts of an edition, entrants, and takes up to a number. */
export interface PipelineScope {
  editionId: string;
  promptIds: string[];
  entrantIds: string[];
  takes: number;
}

const bindScope = ({ editionId, promptIds, entrantIds, takes }: PipelineScope) => [
  editionId,
  promptIds,
  entrantIds,
  takes,
];

/** Reads how far the places of a script's run have come. */
export class PipelineRepository {
  constructor(private readonly db: Database) {}

  async findProgress(scope: PipelineScope): Promise<ScopeProgress> {
    const [row] = await this.db.select(ProgressRow, PROGRESS, bindScope(scope));
    return row!;
  }

  listFailed(scope: PipelineScope) {
    return this.db.select(FailedRow, FAILED, bindScope(scope));
  }

  listFindings(scope: PipelineScope) {
    return this.db.select(FindingRow, FINDINGS, bindScope(scope));
  }
}
