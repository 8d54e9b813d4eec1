import { BrokenRule, Kind, UndeliveredRule } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

const sides = { leftVersionId: z.uuid(), rightVersionId: z.uuid(), lean: z.int(), n: z.int() };
export const PromptTally = z.object({
  ...sides,
  wordingId: z.uuid(),
  leftFailures: z.int(),
  rightFailures: z.int(),
  sampleN: z.int(),
});
export const VoterTally = z.object({ ...sides, voterId: z.uuid() });
export const CellTally = z.object({ ...sides, voterId: z.uuid(), wordingId: z.uuid() });

const SIDES = `t.left_version_id AS "leftVersionId", t.right_version_id AS "rightVersionId", t.lean`;

/** Counts of table `t` for the wordings of edition $1, of entrants as they are set up now. */
const OF_EDITION = `
  JOIN prompts q ON q.wording_id = t.wording_id
  JOIN entrants nl ON nl.version_id = t.left_version_id JOIN entrants nr ON nr.version_id = t.right_version_id
  WHERE t.n > 0 AND q.edition_id = $1`;

export const PROMPT_TALLIES = `
  SELECT t.wording_id AS "wordingId", ${SIDES}, t.n, t.left_failures AS "leftFailures", t.right_failures AS "rightFailures",
    t.sample_n AS "sampleN"
  FROM wording_tallies t ${OF_EDITION} ORDER BY q.position, t.left_version_id, t.right_version_id, t.lean`;

export const VOTER_TALLIES = `
  SELECT t.voter_id AS "voterId", ${SIDES}, sum(t.n)::int AS n
  FROM voter_tallies t ${OF_EDITION}
  GROUP BY t.voter_id, t.left_version_id, t.right_version_id, t.lean ORDER BY 1, 2, 3, 4`;

/** Of voters with several ballots on one wording. */
export const CELL_TALLIES = `
  SELECT t.voter_id AS "voterId", t.wording_id AS "wordingId", ${SIDES}, t.n
  FROM voter_wording_tallies c JOIN voter_tallies t ON t.wording_id = c.wording_id AND t.voter_id = c.voter_id ${OF_EDITION} AND c.n > 1
  ORDER BY 1, 2, 3, 4, 5`;

export const SeenRow = z.object({
  by: z.enum(["pointer", "window", "frame rate"]),
  name: z.string(),
  leftVersionId: z.uuid(),
  rightVersionId: z.uuid(),
  lean: z.int(),
  n: z.int(),
});
/** Ballots that count on the wordings of edition $1, by what their voters saw with, pair and lean. */
export const SEEN = `
  SELECT s.by, s.name, o.left_version_id AS "leftVersionId", o.right_version_id AS "rightVersionId", b.lean, count(*)::int AS n
  FROM prompts q JOIN rated_bouts o ON o.wording_id = q.wording_id
    JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL AND b.seen_with IS NOT NULL
    JOIN voters v ON v.id = o.voter_id AND v.left_out_at IS NULL
    CROSS JOIN LATERAL (VALUES
      ('pointer', b.seen_with->>'pointer'),
      ('window', CASE WHEN (b.seen_with->>'width')::int < 700 THEN 'under 700 px wide'
        WHEN (b.seen_with->>'width')::int < 1200 THEN '700 to 1,199 px wide' ELSE '1,200 px wide or more' END),
      ('frame rate', CASE WHEN (b.seen_with->>'frameRate')::int < 45 THEN 'under 45 frames a second'
        WHEN b.seen_with->>'frameRate' IS NOT NULL THEN '45 frames a second or more' END)) s (by, name)
  WHERE q.edition_id = $1 AND s.name IS NOT NULL GROUP BY 1, 2, 3, 4, 5 ORDER BY 1 DESC, 2, 3, 4, 5`;

export const SourceRow = z.object({
  panelId: z.uuid(),
  title: z.string(),
  edition: z.int(),
  ballots: z.int(),
  unseen: z.int(),
  firstAt: isoDate,
  lastAt: isoDate,
  brokenRule: BrokenRule,
  undeliveredRule: UndeliveredRule,
});

/** The panels whose ballots count for the wordings of edition $1, with when they were cast. */
export const SOURCES = `
  SELECT p.id AS "panelId", p.title, d.number AS edition, count(*)::int AS ballots, (count(*) FILTER (WHERE o.is_automatic))::int AS unseen,
    min(b.cast_at) AS "firstAt", max(b.cast_at) AS "lastAt", p.broken_rule AS "brokenRule", p.undelivered_rule AS "undeliveredRule"
  FROM prompts q JOIN rated_bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN voters v ON v.id = o.voter_id AND v.left_out_at IS NULL JOIN panels p ON p.id = v.panel_id JOIN editions d ON d.id = p.edition_id
  WHERE q.edition_id = $1 GROUP BY p.id, d.number ORDER BY min(b.cast_at)`;

/** Ballots on the wordings of edition $1 that were set aside. */
export const SET_ASIDE = `
  SELECT count(*)::int AS n FROM prompts q JOIN rated_bouts o ON o.wording_id = q.wording_id JOIN ballots b ON b.bout_id = o.id
  WHERE q.edition_id = $1 AND b.voided_by IN ('redo', 'mismatch')`;

export const WordedPrompt = z.object({
  promptId: z.uuid(),
  wordingId: z.uuid(),
  kind: Kind,
  tags: z.array(z.string()),
});
export type WordedPrompt = z.infer<typeof WordedPrompt>;

/** The prompts of edition $1 with their wordings. */
export const WORDED_PROMPTS = `
  SELECT id AS "promptId", wording_id AS "wordingId", kind, coalesce(content->'tags', '[]') AS tags FROM prompts WHERE edition_id = $1 ORDER BY position`;
