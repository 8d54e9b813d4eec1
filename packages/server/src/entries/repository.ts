import {
  type AnswerMarks,
  type ArtifactFacts,
  type ArtifactKind,
  type EntryFile,
  type Failure,
  type Leak,
  Recording,
  type RenderFinishedJob,
  type TraceStep,
  type Verdict,
} from "@tourney/core/contract";
import type { KnownName } from "@tourney/core/extraction";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDateOrNull } from "../db/row.js";
import { toJson } from "../db/storable.js";
import {
  AnswerRow,
  CellRow,
  EntryRow,
  REPLACE_SHOWN_LEAKS,
  RESTORE_BALLOTS,
  RoundRow,
  ROUNDS,
  SELECT_ANSWER,
  SELECT_CELL,
  SELECT_ENTRY,
  type StoredFiles,
  StoredFilesRow,
  TAKE_UP_ANSWERS,
  VOID_BALLOTS,
  WITHOUT_ENTRY,
} from "./entry-queries.sql.js";

const RenderRow = z.object({
  id: z.uuid(),
  state: z.enum(["queued", "recorded", "failed"]),
  recording: Recording.nullable(),
  error: z.string().nullable(),
  finishedAt: isoDateOrNull,
});

const NamesRow = z.object({ name: z.string(), maker: z.string(), model: z.string(), aliases: z.array(z.string()) });

/** What extraction found in an answer. */
export interface Artifact {
  verdict: Verdict;
  kind: ArtifactKind;
  entryPath: string | null;
  files: EntryFile[];
  trace: TraceStep[];
  facts: ArtifactFacts;
}

/** Who voided ballots, and the word for why. */
export interface Voiding {
  by: "lead" | "redo" | "mismatch";
  why: string;
}

/** Entries, what they were taken from, and their recordings. */
export class EntryRepository {
  constructor(private readonly db: Database) {}

  /** An answered generation whose artifact is still to be taken out, or null. */
  findAnswer(generationId: string): Promise<AnswerRow | null> {
    return this.selectAnswer(generationId, WITHOUT_ENTRY);
  }

  /** An answered generation, whether or not its artifact was taken out. */
  findAnswerAgain(generationId: string): Promise<AnswerRow | null> {
    return this.selectAnswer(generationId, "");
  }

  private async selectAnswer(generationId: string, condition: string): Promise<AnswerRow | null> {
    const run = await this.db.models.Generation.findByPk(generationId, {
      attributes: ["id"],
      include: { model: this.db.models.Run, as: "run", attributes: ["editionId"] },
    });
    const { run: ofRun } = (run?.get({ plain: true }) ?? {}) as { run?: { editionId: string } | null };
    const [row] = await this.db.select(AnswerRow, `${SELECT_ANSWER} ${condition}`, [
      generationId,
      ofRun?.editionId ?? null,
    ]);
    return row ?? null;
  }

  /** All names that would tell a voter who made an output. */
  async listKnownNames(): Promise<KnownName[]> {
    const found = await this.db.models.Entrant.findAll({ attributes: ["name", "maker", "model", "aliases"] });
    const rows = found.map((row) => NamesRow.parse(row.get({ plain: true })));
    const makers = [...new Set(rows.map(({ maker }) => maker).filter((maker) => maker !== ""))];
    return [
      ...rows.map(({ name, model, aliases }) => ({ name, aliases: [...aliases, model] })),
      ...makers.map((name) => ({ name, aliases: [] })),
    ];
  }

  /** Notes why an answer's artifact could not be kept; a second note of the same words adds nothing. */
  async noteFailure(generationId: string, failure: Failure): Promise<void> {
    const row = await this.db.models.Generation.findByPk(generationId, { attributes: ["id", "failures"] });
    const failures = (row?.failures ?? []) as Failure[];
    if (row && failures.at(-1)?.message !== failure.message) await row.update({ failures: [...failures, failure] });
  }

  /** Ends an answer whose artifact cannot be taken out on our side, as a failure that the lead sees and can retry. */
  async noteUntaken(generationId: string, failure: Failure): Promise<void> {
    await this.noteFailure(generationId, failure);
    await this.db.models.Generation.update(
      { outcome: "untaken", outcomeDetail: failure.message },
      { where: { id: generationId, state: "answered" } },
    );
  }

  /**
   * Queues the taking out of every answer that has no entry: of a run, where that had ended as a failure, or at start-up of all that a process
   * left behind. Resolves with how many.
   */
  async takeUpAnswers(runId: string | null = null, transaction?: Transaction): Promise<number> {
    return this.db.execute(TAKE_UP_ANSWERS, [runId], transaction);
  }

  async addEntry(generationId: string, artifact: Artifact, transaction: Transaction): Promise<string> {
    const { Entry, Generation } = this.db.models;
    const generation = await Generation.findByPk(generationId, { attributes: ["round"], transaction });
    return (await Entry.create({ generationId, round: generation!.round, ...artifact }, { transaction })).id;
  }

  /** Puts another artifact of the same answer in the place of an entry's. */
  async replaceArtifact(entryId: string, artifact: Artifact, transaction: Transaction): Promise<void> {
    await this.db.models.Entry.update(artifact, { where: { id: entryId }, transaction });
  }

  async addRender(entryId: string, recipeDigest: string, transaction: Transaction): Promise<string> {
    const { Render } = this.db.models;
    const last = await Render.max<number | null, InstanceType<typeof Render>>("number", {
      where: { entryId },
      transaction,
    });
    return (await Render.create({ entryId, number: (last ?? 0) + 1, recipeDigest }, { transaction })).id;
  }

  /** Stores what became of a recording, and the names that were seen in it in the place of those seen in an earlier one. */
  finishRender({ renderId, recording, error }: RenderFinishedJob, shownLeaks: readonly Leak[]): Promise<void> {
    return this.db.transact(async (transaction) => {
      const state = recording === null ? "failed" : "recorded";
      const [finished] = await this.db.models.Render.update(
        { state, recording, error, finishedAt: new Date() },
        { where: { id: renderId, state: "queued" }, transaction },
      );
      if (finished === 0 || recording === null) return;
      await this.db.execute(REPLACE_SHOWN_LEAKS, [renderId, toJson(shownLeaks)], transaction);
    });
  }

  /** @param editionId whose prompt is shown with it; that of the newest edition with its wording where it is null. */
  async findEntry(entryId: string, editionId: string | null = null): Promise<EntryRow | null> {
    const [row] = await this.db.select(EntryRow, SELECT_ENTRY, [entryId, editionId]);
    return row ?? null;
  }

  /** An entry that a person changed, beside the one it was made from. */
  async addEdited(
    fromId: string,
    { files, diff, facts }: { files: EntryFile[]; diff: string; facts: ArtifactFacts },
    transaction: Transaction,
  ): Promise<string> {
    const { Entry } = this.db.models;
    const { generationId, round, kind, entryPath, trace } = (await Entry.findByPk(fromId, { transaction }))!;
    const edited = { generationId, round, kind, entryPath, trace, verdict: "ok", files, facts, diff };
    return (await Entry.create({ ...edited, editedFrom: fromId }, { transaction })).id;
  }

  listRounds({ wordingId, versionId, take, supersededBy }: EntryRow) {
    return this.db.select(RoundRow, ROUNDS, [wordingId, versionId, take, supersededBy]);
  }

  /** The newest recorded render, or the newest of any state when none is. */
  async findRender(entryId: string) {
    const { Render } = this.db.models;
    const order: [string, string][] = [["number", "DESC"]];
    const row =
      (await Render.findOne({ where: { entryId, state: "recorded" }, order })) ??
      (await Render.findOne({ where: { entryId }, order }));
    return row && RenderRow.parse(row.get({ plain: true }));
  }

  async findFiles(entryId: string): Promise<StoredFiles | null> {
    const row = await this.db.models.Entry.findByPk(entryId, { attributes: ["entryPath", "files"] });
    return row && StoredFilesRow.parse(row.get({ plain: true }));
  }

  /** The ids that a hand-made answer is for, and the generation in its place if there is one. */
  async findCell(cell: { editionId: string; promptKey: string; entrantKey: string; take: number; turn: number }) {
    const { editionId, promptKey, entrantKey, take, turn } = cell;
    const [row] = await this.db.select(CellRow, SELECT_CELL, [editionId, promptKey, entrantKey, take, turn]);
    return row!;
  }

  async setMarks(generationId: string, marks: AnswerMarks, transaction: Transaction): Promise<void> {
    await this.db.models.Generation.update(marks, { where: { id: generationId }, transaction });
  }

  async setMismatchAccepted(generationId: string, accepted: boolean, transaction: Transaction): Promise<void> {
    const mismatchAcceptedAt = accepted ? new Date() : null;
    await this.db.models.Generation.update({ mismatchAcceptedAt }, { where: { id: generationId }, transaction });
  }

  /** Sets ballots on these generations' entries aside; resolves with how many. */
  voidBallots(generationIds: readonly string[], { by, why }: Voiding, transaction: Transaction): Promise<number> {
    return this.db.execute(VOID_BALLOTS, [generationIds, why, by], transaction);
  }

  /** Lets ballots that were set aside for this cause count again, where both their entries may count. */
  restoreBallots(generationIds: readonly string[], by: Voiding["by"], transaction: Transaction): Promise<number> {
    return this.db.execute(RESTORE_BALLOTS, [generationIds, by], transaction);
  }
}
