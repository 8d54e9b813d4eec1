import { Contest } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const ContestBallotRow = z.object({
  contest: Contest,
  step: z.int(),
  voterId: z.uuid(),
  promptId: z.uuid(),
  leftEntryId: z.uuid(),
  rightEntryId: z.uuid(),
  leftVersionId: z.uuid(),
  rightVersionId: z.uuid(),
  leftForm: z.string(),
  rightForm: z.string(),
  leftAt: isoDate,
  rightAt: isoDate,
  lean: z.int(),
  isRepeat: z.boolean(),
});

/** Ballots of the contests beside the ratings on the wordings of edition $1 that are not voided, of voters who are not left out, on entrants as they are set up now. */
export const CONTEST_BALLOTS = `
  SELECT o.contest, p.step, o.voter_id AS "voterId", q.id AS "promptId", o.left_entry_id AS "leftEntryId", o.right_entry_id AS "rightEntryId",
    o.left_version_id AS "leftVersionId", o.right_version_id AS "rightVersionId", o.left_form AS "leftForm", o.right_form AS "rightForm",
    gl.answered_at AS "leftAt", gr.answered_at AS "rightAt", b.lean, o.is_repeat AS "isRepeat"
  FROM prompts q JOIN bouts o ON o.wording_id = q.wording_id AND o.contest <> 'entrants'
    JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN voters v ON v.id = o.voter_id AND v.left_out_at IS NULL JOIN panels p ON p.id = v.panel_id
    JOIN entrants nl ON nl.version_id = o.left_version_id JOIN entrants nr ON nr.version_id = o.right_version_id
    JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
    JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
  WHERE q.edition_id = $1 ORDER BY b.cast_at, b.id`;

export const BetweenRow = z.object({
  promptId: z.uuid(),
  products: z.number(),
  pairs: z.int(),
  leanings: z.number(),
  ballots: z.int(),
});

/**
 * Of the rated ballots on edition $1, by prompt: the sum of the products of every two ballots' leans on the same two pages, of how many such there
 * are, and how far ballots lean.
 */
export const BETWEEN = `
  SELECT "promptId", sum(total * total - squares)::float8 AS products, sum(n * (n - 1))::int AS pairs, sum(leanings)::float8 AS leanings, sum(n)::int AS ballots
  FROM (SELECT q.id AS "promptId", sum(CASE WHEN o.left_entry_id < o.right_entry_id THEN b.lean ELSE -b.lean END) AS total,
      sum(b.lean * b.lean) AS squares, sum(abs(b.lean)) AS leanings, count(*) AS n
    FROM prompts q JOIN rated_bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
      JOIN voters v ON v.id = o.voter_id AND v.left_out_at IS NULL
      JOIN entrants nl ON nl.version_id = o.left_version_id JOIN entrants nr ON nr.version_id = o.right_version_id
    WHERE q.edition_id = $1 AND NOT o.is_repeat AND NOT o.is_automatic
    GROUP BY q.id, least(o.left_entry_id, o.right_entry_id), greatest(o.left_entry_id, o.right_entry_id)) pages
  GROUP BY 1`;

export const NewcomerRow = z.object({ versionId: z.uuid() });
/** Entrants that a panel of edition $1 is to place, as they are set up now. */
export const NEWCOMERS = `
  SELECT n.version_id AS "versionId" FROM panels p JOIN entrants n ON n.id = p.newcomer_id
  WHERE p.edition_id = $1 GROUP BY n.version_id ORDER BY min(p.created_at)`;
