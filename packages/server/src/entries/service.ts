import type { EntryDetail, HandAnswer, HandAnswerResult } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { LiveAddresses } from "../exhibit/live-address.js";
import { type ExtractDeps, extractEntry, queueRender } from "./extract-job.js";
import type { EntryRow } from "./repository.js";

/** Code longer than this is cut on screen; the file itself is whole. */
const LONGEST_SHOWN_TEXT = 400_000;

export function createEntryService(deps: ExtractDeps & { live: LiveAddresses }) {
  const { db, entries, blobs, live } = deps;

  async function getRow(entryId: string): Promise<EntryRow> {
    const row = await entries.findEntry(entryId);
    if (row) return row;
    throw new TourneyError("NOT_FOUND", {
      message: `There is no entry ${entryId}.`,
      reason: "It may belong to another Tourney.",
      remedy: "Open the wall and choose a cell.",
    });
  }

  return {
    async getDetail(entryId: string): Promise<EntryDetail> {
      const row = await getRow(entryId);
      const fileTexts = await Promise.all(
        row.files.map(async ({ path, sha256 }) => {
          const bytes = await blobs.find(sha256);
          return {
            path,
            text: bytes?.toString("utf8").slice(0, LONGEST_SHOWN_TEXT) ?? "This file is missing from the store.",
          };
        }),
      );
      const { id, verdict, kind, entryPath, files, take, mendRound, trace, facts } = row;
      return {
        id,
        verdict,
        kind,
        entryPath,
        files,
        take,
        mendRound,
        trace,
        facts,
        fileTexts,
        prompt: { id: row.promptId, ...row.prompt },
        entrant: {
          id: row.entrantId,
          key: row.entrantKey,
          name: row.entrantName,
          maker: row.maker,
          glyph: row.glyph,
          sample: row.sample,
        },
        liveUrl: entryPath === null ? null : live.addressOf(entryId, entryPath),
        render: await entries.findRender(entryId),
        generation: { ...row, id: row.generationId },
      };
    },
    async recordAgain(entryId: string): Promise<{ renderId: string }> {
      const { entryPath, files, prompt } = await getRow(entryId);
      if (entryPath === null) {
        throw new TourneyError("CONFLICT", {
          message: "This entry cannot be recorded.",
          reason: "Its answer holds nothing a browser can run.",
          remedy: "Retry the generation, or import a better answer as another take.",
        });
      }
      return {
        renderId: await db.transact((transaction) =>
          queueRender({ entryId, entryPath, files, prompt }, deps, transaction),
        ),
      };
    },
    /** Takes in an answer that was fetched by hand. The same answer again changes nothing. */
    async addHandAnswer(
      editionId: string,
      { promptKey, entrantKey, take, text }: HandAnswer,
    ): Promise<HandAnswerResult> {
      const clean = text.replaceAll("\0", "\ufffd");
      const cell = await entries.findCell(editionId, promptKey, entrantKey, take);
      if (cell.promptId === null || cell.entrantId === null || cell.model === null)
        throw unknownCell(
          cell.promptId === null ? "prompt" : "entrant",
          cell.promptId === null ? promptKey : entrantKey,
        );
      const { promptId, entrantId, model } = cell;
      if (cell.answer === clean && cell.entryId !== null) {
        return { entryId: cell.entryId, verdict: (await getRow(cell.entryId)).verdict, created: false };
      }
      const generationId = await db.transact((transaction) =>
        entries.addHandAnswer({ promptId, entrantId, take, model, text: clean }, transaction),
      );
      if (generationId === null) {
        throw new TourneyError("CONFLICT", {
          message: `${entrantKey} has take ${take} of ${promptKey} already (${cell.state ?? "being made"}).`,
          reason: "An answer is never overwritten: ballots may hang on it.",
          remedy: `Import this one as take ${take + 1}.`,
        });
      }
      const extracted = await extractEntry(generationId, deps);
      return { entryId: extracted!.entryId, verdict: extracted!.verdict, created: true };
    },
  };
}
export type EntryService = ReturnType<typeof createEntryService>;

function unknownCell(what: "prompt" | "entrant", key: string): TourneyError {
  return new TourneyError("NOT_FOUND", {
    message: `There is no ${what} "${key}".`,
    reason: `An answer goes to a prompt of this edition and an entrant, both named by their keys.`,
    remedy: `Use the ${what}'s key as it stands on the ${what === "prompt" ? "Suite" : "Entrants"} page.`,
  });
}
