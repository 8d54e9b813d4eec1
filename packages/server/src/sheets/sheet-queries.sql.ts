import { JudgedEntry } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const JudgedRow = z.object({ ...JudgedEntry.shape, updatedAt: isoDate });

const countMarks = (...marks: string[]) =>
  `(SELECT count(*) FROM jsonb_array_elements(s.watchpoints) w WHERE w->>'mark' IN (${marks.map((mark) => `'${mark}'`).join(", ")}))::int`;

/** Every sheet on an entry that holds for a wording of edition $1. */
export const JUDGED = `
  SELECT s.entry_id AS "entryId", q.id AS "promptId", q.kind, g.entrant_id AS "entrantId", g.version_id AS "versionId", g.take, g.turn, g.mends,
    g.corrections, s.judge, s.is_blind AS "isBlind", s.verdict, s.marks, ${countMarks("met")} AS met,
    ${countMarks("met", "not_met")} AS "judgedWatchpoints", s.tags, s.updated_at AS "updatedAt"
  FROM score_sheets s JOIN entries e ON e.id = s.entry_id JOIN generations g ON g.id = e.generation_id
    JOIN prompts q ON q.wording_id = g.wording_id
  WHERE q.edition_id = $1 AND g.superseded_at IS NULL ORDER BY q.position, g.entrant_id, g.take, g.turn, g.round, s.judge`;

export const PairRow = z.object({ leftEntryId: z.uuid(), rightEntryId: z.uuid(), net: z.int() });

/** What voters made of the pairs whose sides both have a sheet, each pair once, whichever side an entry stood on. */
export const PAIR_OUTCOMES = `
  WITH judged AS (SELECT DISTINCT s.entry_id FROM score_sheets s JOIN entries e ON e.id = s.entry_id
    JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.wording_id = g.wording_id WHERE q.edition_id = $1)
  SELECT least(o.left_entry_id, o.right_entry_id) AS "leftEntryId", greatest(o.left_entry_id, o.right_entry_id) AS "rightEntryId",
    sum(sign(b.lean) * CASE WHEN o.left_entry_id < o.right_entry_id THEN 1 ELSE -1 END)::int AS net
  FROM rated_bouts o JOIN ballots b ON b.bout_id = o.id
    JOIN judged l ON l.entry_id = o.left_entry_id JOIN judged r ON r.entry_id = o.right_entry_id
  WHERE b.voided_at IS NULL AND NOT o.is_repeat GROUP BY 1, 2`;
