import { BundledEntry } from "@tourney/core/contract";
import * as z from "zod";
import { isoDateOrNull } from "../db/row.js";

export const BundleRow = BundledEntry.omit({ prompt: true, entrant: true }).extend({
  promptKey: z.string(),
  entrantKey: z.string(),
  isPresent: z.boolean(),
  answeredAt: isoDateOrNull,
  sample: z.boolean(),
});
export type BundleRow = z.infer<typeof BundleRow>;

/** The entries on the wordings of edition $1, without their answers: of all takes, turns, rounds and versions, those that were redone, too. */
export const BUNDLE_ENTRIES = `
  SELECT e.id, q.key AS "promptKey", n.key AS "entrantKey", v.number AS version, n.version_id = v.id AS "isPresent", g.take, g.turn, g.round, g.mends,
    g.corrections, e.edited_from IS NOT NULL AS "editedByHand", e.verdict, e.kind, e.entry_path AS "entryPath", e.files,
    g.requested_model AS "requestedModel", g.reported_model AS "reportedModel", g.finish_reason AS "finishReason", g.usage, g.timings,
    g.cost_usd AS "costUsd", g.answered_at AS "answeredAt", g.superseded_at IS NOT NULL AS superseded, n.sample
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
    JOIN entrant_versions v ON v.id = g.version_id JOIN entrants n ON n.id = v.entrant_id
  WHERE q.edition_id = $1 ORDER BY q.position, n.key, v.number, g.take, g.turn, g.round, e.created_at, e.id`;

export const AnswerRow = z.object({ answer: z.string() });
/** The answer that entry $1 was taken from. */
export const ANSWER = `SELECT coalesce(g.answer, '') AS answer FROM entries e JOIN generations g ON g.id = e.generation_id WHERE e.id = $1`;
