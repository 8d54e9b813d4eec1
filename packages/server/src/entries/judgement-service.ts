import type { AnswerMarks } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { AuditRepository } from "../voting/audit-repository.js";
import type { TellOfBallots } from "../voting/ballot-notice.js";
import type { EntryRow } from "./entry-queries.sql.js";
import { type ExtractDeps, queueFirstRender, takeOut } from "./extract-job.js";
import { noSuchEntry } from "./no-such-entry.js";

interface JudgementDeps extends ExtractDeps {
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
}

/** What the lead decides about an answer: whether it counts, what it is, and which of its pages is meant. Each decision is in the audit trail. */
export function createJudgementService(deps: JudgementDeps) {
  const { db, entries, audit, tellOfBallots } = deps;

  async function getRow(entryId: string): Promise<EntryRow> {
    const row = await entries.findEntry(entryId);
    if (row) return row;
    throw noSuchEntry(entryId);
  }
  const describe = ({ id, prompt, entrantName, take }: EntryRow) => ({
    entryId: id,
    prompt: prompt.title,
    entrant: entrantName,
    take,
  });

  return {
    /** Lets an answer by another model than was asked for count, with the ballots that were set aside for it, or keeps it from voters. */
    async acceptMismatch(entryId: string, accepted: boolean): Promise<{ accepted: boolean }> {
      const row = await getRow(entryId);
      if (!row.isMismatch) throw notAMismatch(row);
      const ids = [row.generationId];
      await db.transact(async (transaction) => {
        await entries.setMismatchAccepted(row.generationId, accepted, transaction);
        const ballots = accepted
          ? await entries.restoreBallots(ids, "mismatch", transaction)
          : await entries.voidBallots(
              ids,
              { by: "mismatch", why: "another model answered than was asked for" },
              transaction,
            );
        const action = accepted
          ? "let an answer by another model count"
          : "kept an answer by another model from voters";
        const detail = { ...describe(row), reportedModel: row.reportedModel, ballots };
        await audit.add({ actor: "lead", action, detail }, transaction);
      });
      tellOfBallots(row.editionId);
      return { accepted };
    },

    async setMarks(entryId: string, marks: AnswerMarks): Promise<AnswerMarks> {
      const row = await getRow(entryId);
      await db.transact(async (transaction) => {
        await entries.setMarks(row.generationId, marks, transaction);
        await audit.add(
          { actor: "lead", action: "noted of an answer", detail: { ...describe(row), ...marks } },
          transaction,
        );
      });
      return marks;
    },

    /** Takes another page of the answer as its artifact. It is recorded, may be voted on, and ballots on the former page are set aside. */
    async choosePart(entryId: string, part: string): Promise<{ entryId: string }> {
      const row = await getRow(entryId);
      const found = row.editedFrom === null ? await entries.findAnswerAgain(row.generationId) : null;
      if (found === null || !row.facts.choices.includes(part)) throw noSuchPart(row, part);
      const artifact = await takeOut(found, deps, part);
      await db.transact(async (transaction) => {
        await entries.replaceArtifact(entryId, artifact, transaction);
        await queueFirstRender({ entryId, found, artifact }, deps, transaction);
        const why = `another page of the answer was chosen: ${part}`;
        const ballots = await entries.voidBallots([row.generationId], { by: "lead", why }, transaction);
        const detail = { ...describe(row), part, ballots };
        await audit.add({ actor: "lead", action: "chose another page of an answer", detail }, transaction);
      });
      tellOfBallots(row.editionId);
      return { entryId };
    },
  };
}
export type JudgementService = ReturnType<typeof createJudgementService>;

const notAMismatch = ({ requestedModel }: EntryRow) =>
  new TourneyError("CONFLICT", {
    message: "This answer is not by another model.",
    reason: `${requestedModel} was asked for, and nothing says that another model answered.`,
    remedy: "To keep it from voters all the same, show it to no voter, with a reason.",
  });

const noSuchPart = ({ facts }: EntryRow, part: string) =>
  new TourneyError("INVALID_INPUT", {
    message: `"${part}" is not a page of this answer.`,
    reason:
      facts.choices.length > 1
        ? `The answer holds ${facts.choices.join(", ")}.`
        : "The answer holds no other page, or this entry was mended by hand.",
    remedy: "Choose one of those that the entry's answer tab lists.",
  });
