import {
  ArtifactFacts,
  ArtifactKind,
  EntryFile,
  Failure,
  FollowUp,
  GenerationState,
  type Leak,
  PromptDefinition,
  Recording,
  type RenderFinishedJob,
  Timings,
  TraceStep,
  Usage,
  Verdict,
} from "@tourney/core/contract";
import type { KnownName } from "@tourney/core/extraction";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDateOrNull } from "../db/row.js";

const AnswerRow = z.object({
  id: z.uuid(),
  answer: z.string(),
  /** The parts of an answer that was continued; null when it came in one. */
  parts: z.array(z.string()).nullable(),
  finishReason: z.string().nullable(),
  promptId: z.uuid(),
  prompt: PromptDefinition,
});

const EntryRow = z.object({
  id: z.uuid(),
  verdict: Verdict,
  kind: ArtifactKind,
  entryPath: z.string().nullable(),
  files: z.array(EntryFile),
  trace: z.array(TraceStep),
  facts: ArtifactFacts,
  editedFrom: z.uuid().nullable(),
  leftOut: z.string().nullable(),
  diff: z.string().nullable(),
  mendRound: z.int(),
  take: z.int(),
  promptId: z.uuid(),
  prompt: PromptDefinition,
  entrantId: z.uuid(),
  entrantKey: z.string(),
  entrantName: z.string(),
  maker: z.string(),
  glyph: z.int(),
  sample: z.boolean(),
  generationId: z.uuid(),
  state: GenerationState,
  byHand: z.boolean(),
  answer: z.string(),
  finishReason: z.string().nullable(),
  requestedModel: z.string(),
  reportedModel: z.string().nullable(),
  request: z.unknown(),
  usage: Usage.nullable(),
  timings: Timings.nullable(),
  costUsd: z.number().nullable(),
  attempts: z.int(),
  failures: z.array(Failure),
  answeredAt: isoDateOrNull,
});
export type EntryRow = z.infer<typeof EntryRow>;

const RenderRow = z.object({
  id: z.uuid(),
  state: z.enum(["queued", "recorded", "failed"]),
  recording: Recording.nullable(),
  error: z.string().nullable(),
  finishedAt: isoDateOrNull,
});

const StoredFilesRow = z.object({ entryPath: z.string().nullable(), files: z.array(EntryFile) });
export type StoredFiles = z.infer<typeof StoredFilesRow>;

const RoundRow = z.object({
  entryId: z.uuid().nullable(),
  stage: z.int(),
  mendRound: z.int(),
  handMended: z.boolean(),
  followUp: FollowUp.nullable(),
  state: GenerationState,
  errors: z.int(),
});

export interface NewEntry {
  generationId: string;
  verdict: Verdict;
  kind: ArtifactKind;
  entryPath: string | null;
  files: EntryFile[];
  trace: TraceStep[];
  facts: ArtifactFacts;
}

const id = z.object({ id: z.uuid() });

export function createEntryRepository(db: Database) {
  return {
    /** An answered generation whose artifact is still to be taken out, or null. */
    async findAnswer(generationId: string) {
      const [row] = await db.select(
        AnswerRow,
        `SELECT g.id, g.answer, g.finish_reason AS "finishReason", q.id AS "promptId", q.content AS prompt,
           (SELECT CASE WHEN count(*) > 1 THEN array_agg(a.text ORDER BY a.number) END FROM attempts a
            WHERE a.generation_id = g.id AND a.outcome = 'answered'
              AND a.number >= coalesce((SELECT max(b.number) FROM attempts b WHERE b.generation_id = g.id AND b.purpose = 'again'), 0)) AS parts
         FROM generations g JOIN prompts q ON q.id = g.prompt_id
         WHERE g.id = $1 AND g.state = 'answered' AND NOT EXISTS (SELECT FROM entries e WHERE e.generation_id = g.id AND e.edited_from IS NULL)`,
        [generationId],
      );
      return row ?? null;
    },
    /** All names that would tell a voter who made an output. */
    listKnownNames: async (): Promise<KnownName[]> => {
      const rows = await db.select(
        z.object({ name: z.string(), maker: z.string(), model: z.string(), aliases: z.array(z.string()) }),
        "SELECT name, maker, model, aliases FROM entrants",
      );
      const makers = [...new Set(rows.map(({ maker }) => maker).filter((maker) => maker !== ""))];
      return [
        ...rows.map(({ name, model, aliases }) => ({ name, aliases: [...aliases, model] })),
        ...makers.map((name) => ({ name, aliases: [] })),
      ];
    },
    /** Notes why an answer's artifact could not be kept; a second note of the same words adds nothing. */
    async noteStorageFailure(generationId: string, failure: Failure): Promise<void> {
      await db.execute(
        "UPDATE generations SET failures = failures || $2::jsonb WHERE id = $1 AND coalesce(failures->-1->>'message', '') <> $3",
        [generationId, JSON.stringify([failure]), failure.message],
      );
    },
    async addEntry(entry: NewEntry, transaction: Transaction): Promise<string> {
      const [row] = await db.select(
        id,
        `INSERT INTO entries (generation_id, verdict, kind, entry_path, files, trace, facts, mend_round)
         SELECT $1, $2, $3, $4, $5::jsonb, $6::jsonb, $7::jsonb, mend_round FROM generations WHERE id = $1 RETURNING id`,
        [
          entry.generationId,
          entry.verdict,
          entry.kind,
          entry.entryPath,
          JSON.stringify(entry.files),
          JSON.stringify(entry.trace),
          JSON.stringify(entry.facts),
        ],
        transaction,
      );
      return row!.id;
    },
    async addRender(entryId: string, transaction: Transaction): Promise<string> {
      const [row] = await db.select(
        id,
        "INSERT INTO renders (entry_id, number) SELECT $1, coalesce(max(number), 0) + 1 FROM renders WHERE entry_id = $1 RETURNING id",
        [entryId],
        transaction,
      );
      return row!.id;
    },
    /** Stores what became of a recording, and the names that were seen in it in the place of those seen in an earlier one. */
    finishRender: ({ renderId, recording, error }: RenderFinishedJob, shownLeaks: readonly Leak[]): Promise<void> =>
      db.transact(async (transaction) => {
        const state = recording === null ? "failed" : "recorded";
        const text = recording === null ? null : JSON.stringify(recording);
        const finished = await db.execute(
          `UPDATE renders SET state = $2, recording = $3::jsonb, error = $4, finished_at = now() WHERE id = $1 AND state = 'queued'`,
          [renderId, state, text, error],
          transaction,
        );
        if (finished === 0 || recording === null) return;
        await db.execute(
          `UPDATE entries e SET facts = jsonb_set(e.facts, '{leaks}', coalesce((SELECT jsonb_agg(l)
             FROM jsonb_array_elements(e.facts->'leaks') l WHERE l->>'where' <> 'screen'), '[]') || $2::jsonb)
           FROM renders r WHERE r.id = $1 AND e.id = r.entry_id`,
          [renderId, JSON.stringify(shownLeaks)],
          transaction,
        );
      }),
    async findEntry(entryId: string): Promise<EntryRow | null> {
      const [row] = await db.select(
        EntryRow,
        `SELECT e.id, e.verdict, e.kind, e.entry_path AS "entryPath", e.files, e.trace, e.facts, e.edited_from AS "editedFrom", (SELECT x.why FROM booth_exclusions x WHERE x.entry_id = e.id) AS "leftOut", e.diff, e.mend_round AS "mendRound", g.take,
           q.id AS "promptId", q.content AS prompt, n.id AS "entrantId", n.key AS "entrantKey", n.name AS "entrantName", n.maker,
           n.glyph, n.sample, g.id AS "generationId", g.state, g.by_hand AS "byHand", g.answer, g.finish_reason AS "finishReason",
           g.requested_model AS "requestedModel", g.reported_model AS "reportedModel", g.request, g.usage, g.timings,
           g.cost_usd AS "costUsd", g.attempts, g.failures, g.answered_at AS "answeredAt"
         FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.id = g.prompt_id
           JOIN entrants n ON n.id = g.entrant_id WHERE e.id = $1`,
        [entryId],
      );
      return row ?? null;
    },
    /** An entry that a person changed, beside the one it was made from. */
    async addEdited(
      fromId: string,
      { files, diff, facts }: { files: EntryFile[]; diff: string; facts: ArtifactFacts },
      transaction: Transaction,
    ): Promise<string> {
      const [row] = await db.select(
        id,
        `INSERT INTO entries (generation_id, mend_round, verdict, kind, entry_path, files, trace, facts, edited_from, diff)
         SELECT generation_id, mend_round, 'ok', kind, entry_path, $2::jsonb, trace, $3::jsonb, id, $4 FROM entries WHERE id = $1 RETURNING id`,
        [fromId, JSON.stringify(files), JSON.stringify(facts), diff],
        transaction,
      );
      return row!.id;
    },
    /** Everything made for one prompt, entrant and take: stages, mend rounds, and what was mended by hand. */
    listRounds: ({ promptId, entrantId, take }: { promptId: string; entrantId: string; take: number }) =>
      db.select(
        RoundRow,
        `SELECT e.id AS "entryId", g.stage, g.mend_round AS "mendRound", e.edited_from IS NOT NULL AS "handMended", g.follow_up AS "followUp", g.state,
           (SELECT count(*)::int FROM jsonb_array_elements((SELECT recording->'findings' FROM renders v WHERE v.entry_id = e.id AND v.state = 'recorded'
             ORDER BY v.number DESC LIMIT 1)) f WHERE f->>'severity' = 'error') AS errors
         FROM generations g LEFT JOIN entries e ON e.generation_id = g.id
         WHERE g.prompt_id = $1 AND g.entrant_id = $2 AND g.take = $3 ORDER BY g.stage, g.mend_round, e.created_at`,
        [promptId, entrantId, take],
      ),
    /** The newest recorded render, or the newest of any state when none is. */
    async findRender(entryId: string) {
      const [row] = await db.select(
        RenderRow,
        `SELECT id, state, recording, error, finished_at AS "finishedAt" FROM renders WHERE entry_id = $1
         ORDER BY state = 'recorded' DESC, number DESC LIMIT 1`,
        [entryId],
      );
      return row ?? null;
    },
    findFiles: async (entryId: string): Promise<StoredFiles | null> => {
      const [row] = await db.select(
        StoredFilesRow,
        `SELECT entry_path AS "entryPath", files FROM entries WHERE id = $1`,
        [entryId],
      );
      return row ?? null;
    },
    /** The ids that a hand-made answer is for, and the generation in its place if there is one. */
    async findCell(editionId: string, promptKey: string, entrantKey: string, take: number) {
      const [row] = await db.select(
        z.object({
          promptId: z.uuid().nullable(),
          entrantId: z.uuid().nullable(),
          model: z.string().nullable(),
          generationId: z.uuid().nullable(),
          state: GenerationState.nullable(),
          answer: z.string().nullable(),
          entryId: z.uuid().nullable(),
        }),
        `SELECT q.id AS "promptId", n.id AS "entrantId", n.model, g.id AS "generationId", g.state, g.answer, e.id AS "entryId"
         FROM (SELECT 1) one LEFT JOIN prompts q ON q.edition_id = $1 AND q.key = $2 LEFT JOIN entrants n ON n.key = $3
           LEFT JOIN generations g ON g.prompt_id = q.id AND g.entrant_id = n.id AND g.take = $4 AND g.stage = 1 AND g.mend_round = 0
           LEFT JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL`,
        [editionId, promptKey, entrantKey, take],
      );
      return row!;
    },
    /** Stores an answer made by hand in a cell that has none; resolves with the generation's id, or null if it has one now. */
    async addHandAnswer(
      { promptId, entrantId, take, model, text }: HandAnswerRow,
      transaction: Transaction,
    ): Promise<string | null> {
      const [row] = await db.select(
        id,
        `INSERT INTO generations (prompt_id, entrant_id, take, by_hand, state, requested_model, answer, answered_at)
         VALUES ($1, $2, $3, true, 'answered', $4, $5, now())
         ON CONFLICT (prompt_id, entrant_id, take, stage, mend_round) DO UPDATE
           SET by_hand = true, state = 'answered', outcome = NULL, answer = excluded.answer, answered_at = now()
           WHERE generations.state IN ('failed', 'cancelled', 'held') RETURNING id`,
        [promptId, entrantId, take, model, text],
        transaction,
      );
      return row?.id ?? null;
    },
  };
}
export interface HandAnswerRow {
  promptId: string;
  entrantId: string;
  take: number;
  model: string;
  text: string;
}
export type EntryRepository = ReturnType<typeof createEntryRepository>;
