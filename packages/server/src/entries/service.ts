import type { AnswersImportResult, EntryDetail, EntryEdit, HandAnswer, HandAnswerResult } from "@tourney/core/contract";
import { TourneyError, toTourneyError } from "@tourney/core/errors";
import { findFacts } from "@tourney/core/extraction";
import { createTwoFilesPatch } from "diff";
import type { LiveAddresses } from "../exhibit/live-address.js";
import { type ExtractDeps, extractEntry, queueRender } from "./extract-job.js";
import type { MendRepository } from "./mend-repository.js";
import type { FoundAnswers } from "./read-answers.js";
import type { EntryRow } from "./repository.js";

/** Code longer than this is cut on screen; the file itself is whole. */
const LONGEST_SHOWN_TEXT = 400_000;

export function createEntryService(deps: ExtractDeps & { live: LiveAddresses; mends: MendRepository }) {
  const { db, entries, blobs, live, mends } = deps;

  async function getRow(entryId: string): Promise<EntryRow> {
    const row = await entries.findEntry(entryId);
    if (row) return row;
    throw new TourneyError("NOT_FOUND", {
      message: `There is no entry ${entryId}.`,
      reason: "It may belong to another Tourney.",
      remedy: "Open the wall and choose a cell.",
    });
  }

  /** Takes in an answer that was fetched by hand. The same answer again changes nothing. */
  async function addHandAnswer(
    editionId: string,
    { promptKey, entrantKey, take, text }: HandAnswer,
  ): Promise<HandAnswerResult> {
    const clean = text.replaceAll("\0", "\ufffd");
    const cell = await entries.findCell(editionId, promptKey, entrantKey, take);
    if (cell.promptId === null || cell.entrantId === null || cell.model === null)
      throw unknownCell(cell.promptId === null ? "prompt" : "entrant", cell.promptId === null ? promptKey : entrantKey);
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
        leftOut: row.leftOut,
        handMended: row.editedFrom === null || row.diff === null ? null : { from: row.editedFrom, diff: row.diff },
        rounds: await entries.listRounds(row),
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
    /** Takes in what was found in a folder or file; what cannot be taken is told and leaves the rest standing. */
    async importAnswers(editionId: string, found: FoundAnswers, take = 1): Promise<AnswersImportResult> {
      const result: AnswersImportResult = { taken: [], refused: [...found.refused] };
      for (const { source, take: own, ...answer } of found.answers) {
        try {
          result.taken.push({ source, ...(await addHandAnswer(editionId, { ...answer, take: own ?? take })) });
        } catch (thrown) {
          const error = toTourneyError(thrown);
          result.refused.push({ source, why: `${error.message} ${error.remedy}` });
        }
      }
      return result;
    },
    /** Makes a new entry of an old one with files that a person changed; it is recorded, marked, and kept out of bouts. */
    async edit(entryId: string, { files: changed }: EntryEdit): Promise<{ entryId: string }> {
      const row = await getRow(entryId);
      const { entryPath, kind, prompt } = row;
      const unknown = changed.find(({ path }) => !row.files.some((file) => file.path === path));
      if (entryPath === null || unknown !== undefined) {
        throw new TourneyError("INVALID_INPUT", {
          message: unknown === undefined ? "This entry has no files." : `This entry has no file "${unknown.path}".`,
          reason: "Mending by hand changes the files that an entry has.",
          remedy: "Change one of the files that are listed in its code.",
        });
      }
      const files = await Promise.all(
        row.files.map(async ({ path, sha256 }) => {
          const before = (await blobs.find(sha256))?.toString("utf8") ?? "";
          return { path, before, text: changed.find((file) => file.path === path)?.text ?? before };
        }),
      );
      const diff = files
        .filter(({ before, text }) => before !== text)
        .map(({ path, before, text }) => createTwoFilesPatch(path, path, before, text))
        .join("\n");
      if (diff === "") {
        throw new TourneyError("CONFLICT", {
          message: "Nothing was changed.",
          reason: "An entry mended by hand differs from the one it was made from.",
          remedy: "Change the code first.",
        });
      }
      const kept = await Promise.all(
        files.map(async ({ path, text }) => {
          const bytes = Buffer.from(text, "utf8");
          return { path, bytes: bytes.length, sha256: await blobs.put(bytes) };
        }),
      );
      const facts = findFacts(files, {
        kind,
        entry: entryPath,
        rules: prompt.rules,
        names: await entries.listKnownNames(),
      });
      const edited = await db.transact(async (transaction) => {
        const added = await entries.addEdited(entryId, { files: kept, diff, facts }, transaction);
        await queueRender({ entryId: added, entryPath, files: kept, prompt }, deps, transaction);
        return added;
      });
      return { entryId: edited };
    },
    /** Sends one typed follow-up alike to every entrant that has answered a prompt. */
    async sendCorrection(promptId: string, { text, take }: { text: string; take: number }): Promise<{ sent: number }> {
      const sent = await db.transact(async (transaction) => {
        const rounds = await mends.listNewestRounds(promptId, take, transaction);
        let added = 0;
        for (const { id } of rounds)
          if (await mends.addFollowUp(id, { kind: "correction", text }, transaction)) added++;
        await deps.addJob("dispatch", {}, { key: "dispatch", transaction });
        return added;
      });
      if (sent > 0) return { sent };
      throw new TourneyError("CONFLICT", {
        message: "Nobody can be asked.",
        reason: "A correction follows an answer, and no entrant has answered this prompt and take over an endpoint.",
        remedy: "Run the prompt first.",
      });
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
    addHandAnswer,
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
