import { DEFAULT_MEND_TEMPLATE, Finding, type FollowUp, type MendRequest, RunOptions } from "@tourney/core/contract";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { toJson } from "../db/storable.js";
import { ADD_FOLLOW_UP } from "../generations/generation-states.sql.js";
import { MENDABLE, MendableRow, NEWEST_ROUNDS, RECORDED, RecordedRow } from "./entry-queries.sql.js";

const Findings = z.array(Finding);
const id = z.object({ id: z.uuid() });

/** Follow-ups: what is sent after an answer, each as a generation of its own. */
export class FollowUpRepository {
  constructor(private readonly db: Database) {}

  /** The generation behind a render of what a model made, with its run's options and its suite's template. */
  async findRecorded(renderId: string) {
    const [row] = await this.db.select(RecordedRow, RECORDED, [renderId, DEFAULT_MEND_TEMPLATE]);
    return row ? { ...row, options: RunOptions.parse(row.options) } : null;
  }

  /**
   * Adds the next round after a generation; false when that round is there already.
   * @param runId the run that pays for it; that of the generation before when null.
   */
  async add(
    generationId: string,
    followUp: z.input<typeof FollowUp>,
    { runId = null, transaction }: { runId?: string | null; transaction: Transaction },
  ): Promise<boolean> {
    return (await this.db.execute(ADD_FOLLOW_UP, [generationId, toJson(followUp), runId], transaction)) === 1;
  }

  /** The newest answered round of every entrant that can be asked again, for one prompt and take. */
  listNewestRounds(promptId: string, take: number, entrantIds: readonly string[] | null, transaction: Transaction) {
    return this.db.select(id, NEWEST_ROUNDS, [promptId, take, entrantIds], transaction);
  }

  /** The newest answered rounds that can be mended, with what was found in their recordings. */
  async listMendable({ editionId, promptId, entrantId, entryId, take }: MendRequest, transaction: Transaction) {
    const bind = [editionId, promptId ?? null, entrantId ?? null, entryId ?? null, take, DEFAULT_MEND_TEMPLATE];
    const rows = await this.db.select(MendableRow, MENDABLE, bind, transaction);
    return rows.map((row) => ({ ...row, findings: Findings.parse(row.findings) }));
  }
}
