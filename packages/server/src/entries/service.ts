import { readFile } from "node:fs/promises";
import {
  type AnswersImportResult,
  type EntryDetail,
  type EntryEdit,
  HandAnswer,
  type HandAnswerResult,
} from "@tourney/core/contract";
import type * as z from "zod";
import { TourneyError, toTourneyError } from "@tourney/core/errors";
import { findAdmissions } from "@tourney/core/extraction";
import type { LiveAddresses } from "../exhibit/live-address.js";
import { toStorableText } from "../db/storable.js";
import type { AnswerColumns, GenerationStates, HandPlace } from "../generations/generation-states-repository.js";
import type { CellRow, EntryRow } from "./entry-queries.sql.js";
import { type ExtractDeps, extractEntry, queueRender } from "./extract-job.js";
import { type SavedEntry, saveEntry } from "./save-entry.js";
import { TooCostly } from "../reading/readers.js";
import type { SentAnswers } from "../reading/readings.js";
import { noSuchEntry } from "./no-such-entry.js";
import { tellFirst } from "./tell-first.js";

/** Its sentences are looked through in a few milliseconds, whatever they are: a reading process that is not there yet takes longer to start. */
const SHORT_ANSWER = 64_000;
/** Code longer than this is cut on screen; the file itself is whole. */
const LONGEST_SHOWN_TEXT = 400_000;

export function createEntryService(deps: ExtractDeps & { live: LiveAddresses; states: GenerationStates }) {
  const { db, entries, blobs, live, states, addJob, readers } = deps;

  async function getRow(entryId: string, editionId: string | null = null): Promise<EntryRow> {
    const row = await entries.findEntry(entryId, editionId);
    if (row) return row;
    throw noSuchEntry(entryId);
  }

  /** Takes in an answer that was fetched by hand. The same answer again changes nothing, or takes its page out once more where that failed. */
  async function addHandAnswer(editionId: string, given: z.input<typeof HandAnswer>): Promise<HandAnswerResult> {
    const input = HandAnswer.parse(given);
    const text = toStorableText(input.text);
    const { promptKey, entrantKey, take, turn } = input;
    const cell = await entries.findCell({ editionId, promptKey, entrantKey, take, turn });
    const place = toPlace(cell, input);
    if (cell.answer === text && cell.entryId !== null)
      return { entryId: cell.entryId, verdict: (await getRow(cell.entryId)).verdict, created: false };
    const generationId =
      cell.answer === text
        ? cell.generationId
        : await db.transact(async (transaction) => {
            const added = await states.addByHand(place, describeHandAnswer(input, text), transaction);
            // Should this process die, or taking the page out fail, the queue does it.
            if (added !== null)
              await addJob(
                "extract",
                { generationId: added },
                { key: `extract:${added}`, runAt: new Date(Date.now() + TAKE_OUT_AGAIN_MS), transaction },
              );
            return added;
          });
    if (generationId === null) throw isThereAlready(input, cell.state);
    const extracted = await extractEntry(generationId, deps);
    if (extracted !== null) return { ...extracted, created: true };
    const now = await entries.findCell({ editionId, promptKey, entrantKey, take, turn });
    return { entryId: now.entryId!, verdict: (await getRow(now.entryId!)).verdict, created: true };
  }

  return {
    /** @throws TourneyError NOT_FOUND */
    async save(entryId: string): Promise<SavedEntry> {
      return saveEntry(await getRow(entryId), blobs);
    },

    async getDetail(entryId: string, editionId: string | null = null): Promise<EntryDetail> {
      const row = await getRow(entryId, editionId);
      const fileTexts = await Promise.all(
        row.files.map(async ({ path, sha256 }) => {
          const bytes = await blobs.find(sha256);
          return {
            path,
            text: bytes?.toString("utf8").slice(0, LONGEST_SHOWN_TEXT) ?? "This file is missing from the store.",
          };
        }),
      );
      const admissions =
        row.answer.length <= SHORT_ANSWER
          ? findAdmissions(row.answer)
          : await readers.read("findAdmissions", row.answer).catch(noneIfTooCostly);
      const { id, verdict, kind, entryPath, files, take, turn, round, mends, corrections, trace, facts } = row;
      const { editionId: shownWith, version, redone, handHelp, offTask, leftOut } = row;
      return {
        ...{ id, verdict, kind, entryPath, files, take, turn, round, mends, corrections, trace, facts },
        ...{ editionId: shownWith, version, redone, handHelp, offTask, leftOut },
        superseded:
          row.supersededAt === null
            ? null
            : { at: row.supersededAt, why: row.supersededWhy ?? "It was redone.", holdsId: row.holdsId },
        mismatch: row.isMismatch ? { accepted: row.mismatchAccepted } : null,
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
        generation: { ...row, id: row.generationId, admissions },
      };
    },
    /** Takes in what was found in a folder or file; what cannot be taken is told and leaves the rest standing. */
    async importAnswers(editionId: string, found: SentAnswers, take = 1): Promise<AnswersImportResult> {
      const taken: AnswersImportResult["taken"] = [];
      const refused: AnswersImportResult["refused"] = [];
      for (const { source, take: own, file, ...answer } of found.answers) {
        try {
          taken.push({
            source,
            ...(await addHandAnswer(editionId, { ...answer, text: await readFile(file, "utf8"), take: own ?? take })),
          });
        } catch (thrown) {
          const error = toTourneyError(thrown);
          refused.push({ source, why: `${error.message} ${error.remedy}` });
        }
      }
      return { taken, refused: [...found.refused, ...tellFirst(refused)] };
    },
    /** Makes a new entry of an old one with files that a person changed; it is recorded, marked, and kept out of bouts. */
    async edit(entryId: string, { files: changed }: EntryEdit): Promise<{ entryId: string }> {
      const row = await getRow(entryId);
      const { entryPath, kind, prompt, recipeDigest } = row;
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
      const diff = await readers.read("compareFiles", files);
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
      const facts = {
        ...(await readers.read("findFacts", {
          files,
          options: { kind, entry: entryPath, rules: prompt.rules, names: await entries.listKnownNames() },
        })),
        choices: [],
      };
      const edited = await db.transact(async (transaction) => {
        const added = await entries.addEdited(entryId, { files: kept, diff, facts }, transaction);
        await queueRender({ entryId: added, entryPath, files: kept, recipe: prompt, recipeDigest }, deps, transaction);
        return added;
      });
      return { entryId: edited };
    },
    /** @param stress whether its load is turned up as well. */
    async recordAgain(entryId: string, { stress }: { stress: boolean }): Promise<{ renderId: string }> {
      const { entryPath, files, prompt: recipe, recipeDigest } = await getRow(entryId);
      if (entryPath === null) {
        throw new TourneyError("CONFLICT", {
          message: "This entry cannot be recorded.",
          reason: "Its answer holds nothing a browser can run.",
          remedy: "Redo the take, or import a better answer as another take.",
        });
      }
      return {
        renderId: await db.transact((transaction) =>
          queueRender({ entryId, entryPath, files, recipe, recipeDigest, stress }, deps, transaction),
        ),
      };
    },
    addHandAnswer,
  };
}
export type EntryService = ReturnType<typeof createEntryService>;

/** A list that is a hint and no more: an entry opens without it, too. */
function noneIfTooCostly(thrown: unknown): string[] {
  if (thrown instanceof TooCostly) return [];
  throw thrown;
}

/** An answer whose page was not taken out at once is tried again by the queue after this long. */
const TAKE_OUT_AGAIN_MS = 15_000;

/** Where an answer by hand goes. @throws TourneyError NOT_FOUND for a prompt, entrant or turn that is not there. */
function toPlace(
  { wordingId, turns, entrantId, versionId, model }: CellRow,
  { promptKey, entrantKey, take, turn }: HandAnswer,
): HandPlace {
  if (wordingId === null) throw unknownCell("prompt", promptKey);
  if (entrantId === null || versionId === null || model === null) throw unknownCell("entrant", entrantKey);
  if (turn <= (turns ?? 1)) return { wordingId, versionId, entrantId, take, turn, requestedModel: model };
  throw new TourneyError("NOT_FOUND", {
    message: `${promptKey} has no turn ${turn}.`,
    reason: `It has ${turns ?? 1}, the first request included.`,
    remedy: "Leave the turn out for a prompt without follow-up requests.",
  });
}

/** What is stored of an answer by hand; what was not told stays unknown. */
function describeHandAnswer(
  { inputTokens, outputTokens, minutes, costUsd, reportedModel }: HandAnswer,
  answer: string,
): Partial<AnswerColumns> {
  const hasUsage = inputTokens !== undefined || outputTokens !== undefined;
  const unknown = { cachedInputTokens: null, reasoningTokens: null };
  const usage = { inputTokens: inputTokens ?? null, outputTokens: outputTokens ?? null, ...unknown };
  const timings = { queuedMs: null, firstTokenMs: null, firstTextMs: null, totalMs: (minutes ?? 0) * 60_000 };
  return {
    answer,
    usage: hasUsage ? usage : null,
    timings: minutes === undefined ? null : timings,
    costUsd: costUsd ?? null,
    reportedModel: reportedModel ?? null,
  };
}

const isThereAlready = ({ promptKey, entrantKey, take }: HandAnswer, state: string | null) =>
  new TourneyError("CONFLICT", {
    message: `${entrantKey} has take ${take} of ${promptKey} already (${state ?? "being made"}).`,
    reason: "An answer is never overwritten: ballots may hang on it.",
    remedy: `Import this one as take ${take + 1}, or redo take ${take} with a reason first: the old answer then stays readable beside it.`,
  });

function unknownCell(what: "prompt" | "entrant", key: string): TourneyError {
  return new TourneyError("NOT_FOUND", {
    message: `There is no ${what} "${key}".`,
    reason: `An answer goes to a prompt of this edition and an entrant, both named by their keys.`,
    remedy: `Use the ${what}'s key as it stands on the ${what === "prompt" ? "Suite" : "Entrants"} page.`,
  });
}
