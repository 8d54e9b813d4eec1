import type { JudgedEntry, ScoreSheetInput } from "@tourney/core/contract";
import { ScoreSheet } from "@tourney/core/contract";
import type { PairOutcome } from "@tourney/core/sheets";
import type { Database } from "../db/connection.js";
import type { ScoreSheetModel } from "../db/models/score-sheet-model.js";
import { JUDGED, JudgedRow, PAIR_OUTCOMES, PairRow } from "./sheet-queries.sql.js";

const toSheet = (row: ScoreSheetModel): ScoreSheet =>
  ScoreSheet.parse({
    ...row.get({ plain: true }),
    createdAt: row.createdAt.toISOString(),
    updatedAt: row.updatedAt.toISOString(),
  });

/** Score sheets, and what tallies are made of. */
export class SheetRepository {
  constructor(private readonly db: Database) {}

  async list(entryId: string): Promise<ScoreSheet[]> {
    const rows = await this.db.models.ScoreSheet.findAll({ where: { entryId }, order: [["updatedAt", "DESC"]] });
    return rows.map(toSheet);
  }

  async hasEntry(entryId: string): Promise<boolean> {
    return (await this.db.models.Entry.count({ where: { id: entryId } })) > 0;
  }

  /** Writes a judge's sheet, the first or the next version of it. One that was ever filled in with the name shown is not blind. */
  async save(entryId: string, judge: string, input: ScoreSheetInput): Promise<ScoreSheet> {
    const { ScoreSheet: Sheets } = this.db.models;
    return this.db.transact(async (transaction) => {
      const before = await Sheets.findOne({ where: { entryId, judge }, lock: true, transaction });
      const isBlind = input.isBlind && (before?.isBlind ?? true);
      const [row] = await Sheets.upsert(
        { ...input, isBlind, entryId, judge, updatedAt: new Date() },
        { conflictFields: ["entry_id" as keyof ScoreSheetModel["_attributes"], "judge"], transaction },
      );
      return toSheet(await row.reload({ transaction }));
    });
  }

  async remove(entryId: string, judge: string): Promise<boolean> {
    return (await this.db.models.ScoreSheet.destroy({ where: { entryId, judge } })) > 0;
  }

  listJudged(editionId: string): Promise<JudgedEntry[]> {
    return this.db.select(JudgedRow, JUDGED, [editionId]);
  }

  listPairOutcomes(editionId: string): Promise<PairOutcome[]> {
    return this.db.select(PairRow, PAIR_OUTCOMES, [editionId]);
  }
}
