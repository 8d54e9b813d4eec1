import { BrokenRule, Kind, UndeliveredRule } from "@tourney/core/contract";
import { MARKS } from "@tourney/core/standings";
import * as z from "zod";

export const BasisPrompt = z.object({
  id: z.uuid(),
  wordingId: z.uuid(),
  key: z.string(),
  title: z.string(),
  kind: Kind,
  tags: z.array(z.string()),
  isVariant: z.boolean(),
});

/** The prompts of edition $1 with their wordings. */
export const BASIS_PROMPTS = `
  SELECT id, wording_id AS "wordingId", key, content->>'title' AS title, kind, coalesce(content->'tags', '[]') AS tags, content->'variantOf' IS NOT NULL AS "isVariant"
  FROM prompts WHERE edition_id = $1 ORDER BY position`;

export const BasisVoter = z.object({ id: z.uuid(), name: z.string(), panelId: z.uuid(), sample: z.boolean() });

/** Voters with ballots on wordings $1 that the lead has not left out, of the panels of contest $2; where it is given, of step $3. */
export const BASIS_VOTERS = `
  SELECT v.id, v.name, v.panel_id AS "panelId", v.sample FROM voters v JOIN panels p ON p.id = v.panel_id
  WHERE p.contest = $2 AND ($3::int IS NULL OR p.step = $3) AND v.left_out_at IS NULL AND EXISTS (SELECT FROM bouts o JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    WHERE o.voter_id = v.id AND o.wording_id = ANY($1::uuid[])) ORDER BY v.created_at, v.id`;

export const BasisPanel = z.object({
  id: z.uuid(),
  title: z.string(),
  edition: z.int(),
  brokenRule: BrokenRule,
  undeliveredRule: UndeliveredRule,
});

export const OtherPages = z.object({ pages: z.string() });
/** Pages on wordings $1 that were compared beside first shots. That they are not between entrants is said for the index of such bouts. */
export const OTHER_PAGES = `
  SELECT DISTINCT CASE o.contest WHEN 'mended' THEN 'mended-' ELSE 'turn-' END || p.step AS pages
  FROM bouts o JOIN voters v ON v.id = o.voter_id JOIN panels p ON p.id = v.panel_id
  WHERE o.contest <> 'entrants' AND o.contest IN ('mended', 'turn_pages') AND o.wording_id = ANY($1::uuid[]) ORDER BY 1`;

/** Panels $1, the oldest first. */
export const BASIS_PANELS = `
  SELECT p.id, p.title, d.number AS edition, p.broken_rule AS "brokenRule", p.undelivered_rule AS "undeliveredRule"
  FROM panels p JOIN editions d ON d.id = p.edition_id WHERE p.id = ANY($1::uuid[]) ORDER BY p.created_at, p.id`;

export const BrokenEntry = z.object({ id: z.uuid(), hasPage: z.boolean() });

/** Entries on the prompts of edition $1 that have no page, or whose recording shows nothing: one by the edition's own recipe before others. */
export const BROKEN_ENTRIES = `
  SELECT id, "hasPage" FROM (
    SELECT DISTINCT ON (e.id) e.id, e.entry_path IS NOT NULL AS "hasPage", r.shows_nothing
    FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
      LEFT JOIN renders r ON r.entry_id = e.id AND r.state = 'recorded'
    WHERE q.edition_id = $1 ORDER BY e.id, r.recipe_digest = q.recipe_digest DESC NULLS LAST, r.number DESC) x
  WHERE NOT "hasPage" OR shows_nothing`;

/** Some ballots as bytes, and where they are asked for, their ids. */
export const BasisBallots = z.object({ bytes: z.instanceof(Buffer), ids: z.array(z.uuid()) });

/** Bytes of one ballot as `BASIS_BALLOTS` sends it. */
export const BALLOT_BYTES = 26;
/** A lean, from 0 on, stands above the marks in one number: these are all marks and one more. */
export const ALL_MARKS = 2 * Math.max(...Object.values(MARKS));

const MARK_SQL: readonly [condition: string, mark: number][] = [
  ["b.left_works", MARKS.leftWorks],
  ["b.right_works", MARKS.rightWorks],
  ["o.left_entry_id = ANY($4::uuid[])", MARKS.leftShowsNothing],
  ["o.right_entry_id = ANY($4::uuid[])", MARKS.rightShowsNothing],
  ["o.left_entry_id = ANY($5::uuid[])", MARKS.leftHasNoPage],
  ["o.right_entry_id = ANY($5::uuid[])", MARKS.rightHasNoPage],
  ["o.is_automatic", MARKS.isUnseen],
];

/**
 * The ballots of some voters, whose panel says of which contest they are, that are not voided on some wordings, in the order in which they were cast: $1 wordings with their places ($6), $2 voters, $3 versions in the order of their numbers, $4 entries that show
 * nothing, $5 entries without a page. With their ids where $7 asks for them. Of each: the places of its wording, its voter and the two versions, four bytes each;
 * when it was cast in seconds, eight; its lean and marks, two.
 */
export const BASIS_BALLOTS = `
  SELECT coalesce(string_agg(int4send(q.place) || int4send((v.place - 1)::int) || int4send((l.place - 1)::int) || int4send((r.place - 1)::int)
      || int8send(floor(extract(epoch FROM b.cast_at))::bigint) || int2send(((b.lean + 2) * ${ALL_MARKS} + ${MARK_SQL.map(
        ([condition, mark]) => `CASE WHEN ${condition} THEN ${mark} ELSE 0 END`,
      ).join(" + ")})::int2), '' ORDER BY b.cast_at, b.id), '') AS bytes,
    coalesce(array_agg(b.id ORDER BY b.cast_at, b.id) FILTER (WHERE $7), '{}') AS ids
  FROM unnest($1::uuid[], $6::int[]) q(id, place) JOIN bouts o ON o.wording_id = q.id
    JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN unnest($2::uuid[]) WITH ORDINALITY v(id, place) ON v.id = o.voter_id
    JOIN unnest($3::uuid[]) WITH ORDINALITY l(id, place) ON l.id = o.left_version_id
    JOIN unnest($3::uuid[]) WITH ORDINALITY r(id, place) ON r.id = o.right_version_id`;
