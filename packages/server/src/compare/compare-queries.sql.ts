import { ComparableEntry } from "@tourney/core/contract";
import * as z from "zod";
import { keepPlan } from "../db/kept-plan.js";
import { isoDateOrNull } from "../db/row.js";

export const ComparableRow = z.object({
  ...ComparableEntry.omit({ entrant: true, won: true, lost: true, even: true }).shape,
  answeredAt: isoDateOrNull,
  entrantId: z.uuid(),
  entrantName: z.string(),
  glyph: z.int(),
  wordingId: z.uuid(),
});

/** All entries of the prompt of entry $1 and of the prompt's variants, as edition $2 has them, or the newest edition that has the wording. */
export const COMPARABLE = keepPlan(`
  WITH own AS (
    SELECT q.id, q.edition_id, q.key, coalesce(q.content->'variantOf'->>'prompt', q.key) AS task
    FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.wording_id = g.wording_id JOIN editions d ON d.id = q.edition_id
    WHERE e.id = $1 ORDER BY d.id = $2::uuid DESC NULLS LAST, d.number DESC LIMIT 1),
  asked AS (
    SELECT q.id, q.wording_id, q.content->>'title' AS title, q.id = own.id AS is_same, q.position
    FROM own JOIN prompts q ON q.edition_id = own.edition_id AND coalesce(q.content->'variantOf'->>'prompt', q.key) = own.task)
  SELECT e.id AS "entryId", a.id AS "promptId", a.title AS "promptTitle", a.is_same AS "isSamePrompt", n.id AS "entrantId", n.name AS "entrantName",
    n.glyph, n.predecessor_id AS "predecessorId", v.id AS "versionId", v.number AS version, v.id = n.version_id AS "isPresent", g.take, g.turn,
    g.round, g.mends, g.corrections, e.edited_from IS NOT NULL AS "isByHand", g.superseded_at IS NOT NULL AS "isSuperseded",
    EXISTS (SELECT FROM renders r WHERE r.entry_id = e.id AND r.state = 'recorded') AS "isRecorded", g.answered_at AS "answeredAt",
    g.cost_usd AS "costUsd", a.wording_id AS "wordingId"
  FROM own CROSS JOIN asked a JOIN generations g ON g.wording_id = a.wording_id JOIN entries e ON e.generation_id = g.id
    JOIN entrants n ON n.id = g.entrant_id JOIN entrant_versions v ON v.id = g.version_id
  ORDER BY a.is_same DESC, a.position, n.name, v.number DESC, g.take, g.turn, g.round, e.created_at LIMIT 2000`);

/** How many ballots between entrants leaned to each entry of wordings $1, away from it, and to neither; repeated bouts are left out. Entries without any are not there. */
export const OUTCOMES = `
  SELECT entry_id AS "entryId", sum(won)::int AS won, sum(lost)::int AS lost, sum(even)::int AS even FROM entry_outcomes WHERE wording_id = ANY($1::uuid[]) GROUP BY 1`;
export const OutcomeRow = ComparableEntry.pick({ entryId: true, won: true, lost: true, even: true });
