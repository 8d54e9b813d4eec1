import type { Judging, ScoreSheet, ScoreSheetInput } from "@tourney/core/contract";
import { countAgreement } from "@tourney/core/sheets";
import type { SheetRepository } from "./repository.js";
import { noSuchEntry } from "../entries/no-such-entry.js";

/** Score sheets: what people make of single entries. Nothing here touches a ballot or a rating. */
export function createSheetService({ sheets }: { sheets: SheetRepository }) {
  async function refuseUnknown(entryId: string): Promise<void> {
    if (await sheets.hasEntry(entryId)) return;
    throw noSuchEntry(entryId);
  }
  return {
    async list(entryId: string): Promise<ScoreSheet[]> {
      await refuseUnknown(entryId);
      return sheets.list(entryId);
    },
    async save(entryId: string, judge: string, input: ScoreSheetInput): Promise<ScoreSheet> {
      await refuseUnknown(entryId);
      return sheets.save(entryId, judge, input);
    },
    async remove(entryId: string, judge: string): Promise<{ removed: boolean }> {
      return { removed: await sheets.remove(entryId, judge) };
    },
    async getJudging(editionId: string): Promise<Judging> {
      const judged = await sheets.listJudged(editionId);
      const pairs = judged.length === 0 ? [] : await sheets.listPairOutcomes(editionId);
      return { sheets: judged, agreement: countAgreement(judged, pairs) };
    },
  };
}
export type SheetService = ReturnType<typeof createSheetService>;
