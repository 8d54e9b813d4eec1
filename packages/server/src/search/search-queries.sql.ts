import { SearchHit } from "@tourney/core/contract";

export const HitRow = SearchHit;

/** The text around the first place where word $3 begins, as far into a text as it is searched. */
const excerptOf = (text: string) => `substr(${text}, greatest(1, strpos(lower(left(${text}, 150000)), $3) - 24), 200)`;

const has = (text: string) => `searchable(${text}) @@ to_tsquery('simple', $2)`;

/** Entries that hold for wordings of edition $1. */
const ENTRIES = `prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id
    JOIN entrants n ON n.id = g.entrant_id`;
const HOLDS = "q.edition_id = $1 AND g.superseded_at IS NULL";
const ENTRY_TITLE = `(q.content->>'title') || ', ' || n.name || CASE WHEN g.take > 1 THEN ', take ' || g.take ELSE '' END
      || CASE WHEN g.turn > 1 THEN ', turn ' || g.turn ELSE '' END || CASE WHEN g.mends > 0 THEN ', mend ' || g.mends ELSE '' END`;

const ENTRANTS = `
  SELECT 'entrant' AS sort, n.name AS title, concat_ws(', ', nullif(n.maker, ''), n.model) AS excerpt, '{}'::uuid[] AS "entryIds",
    NULL::text AS "promptKey", n.id AS "entrantId"
  FROM entrants n
  WHERE ${has("concat_ws(' ', n.key, n.name, n.maker, n.model)")} ORDER BY n.name`;

const PROMPTS = `
  SELECT 'prompt' AS sort, q.content->>'title' AS title, ${excerptOf("concat_ws(' ', q.content->>'summary', q.content->>'text')")} AS excerpt,
    '{}'::uuid[] AS "entryIds", q.key AS "promptKey", NULL::uuid AS "entrantId"
  FROM prompts q WHERE q.edition_id = $1 AND ${has("q.content::text")} ORDER BY q.position`;

const SHEET_TEXT = "concat_ws(' ', s.note, (SELECT string_agg(tag, ', ') FROM jsonb_array_elements_text(s.tags) tag))";
const SHEET_NOTES = `
  SELECT 'note' AS sort, ${ENTRY_TITLE} || ', judged by ' || s.judge AS title, ${excerptOf(SHEET_TEXT)} AS excerpt, ARRAY[e.id] AS "entryIds",
    q.key AS "promptKey", n.id AS "entrantId"
  FROM ${ENTRIES} JOIN score_sheets s ON s.entry_id = e.id
  WHERE ${HOLDS} AND ${has("s.note || ' ' || s.tags::text")} ORDER BY s.updated_at DESC`;

const VOTER_NOTES = `
  SELECT 'note' AS sort, (q.content->>'title') || ', a voter' AS title, ${excerptOf("b.note")} AS excerpt,
    ARRAY[o.left_entry_id, o.right_entry_id] AS "entryIds", q.key AS "promptKey", NULL::uuid AS "entrantId"
  FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN prompts q ON q.wording_id = o.wording_id
  WHERE q.edition_id = $1 AND b.note <> '' AND b.voided_at IS NULL AND ${has("b.note")} ORDER BY b.cast_at DESC`;

const FINDING_TEXT = `(SELECT string_agg(initcap(replace(f->>'rule', '_', ' ')) || ': ' || (f->>'message'), '. ')
      FROM jsonb_array_elements(r.recording->'findings') f)`;
const FINDINGS = `
  SELECT 'finding' AS sort, ${ENTRY_TITLE} AS title, ${excerptOf(FINDING_TEXT)} AS excerpt, ARRAY[e.id] AS "entryIds",
    q.key AS "promptKey", n.id AS "entrantId"
  FROM ${ENTRIES} JOIN renders r ON r.entry_id = e.id
  WHERE ${HOLDS} AND ${has("r.recording->>'findings'")}
    AND r.number = (SELECT max(l.number) FROM renders l WHERE l.entry_id = e.id AND l.state = 'recorded')
  ORDER BY q.position, n.name`;

/** A word that most answers have would make the database put all of them in order for the few that are shown. */
const MOST_ORDERED = 1000;
const ANSWERS = `
  SELECT 'answer' AS sort, ${ENTRY_TITLE} AS title, ${excerptOf("g.answer")} AS excerpt, ARRAY[e.id] AS "entryIds", q.key AS "promptKey",
    n.id AS "entrantId"
  FROM (SELECT a.id AS found FROM generations a JOIN prompts p ON p.wording_id = a.wording_id
      WHERE p.edition_id = $1 AND a.superseded_at IS NULL AND ${has("a.answer")} LIMIT ${MOST_ORDERED}) few
    JOIN generations g ON g.id = few.found JOIN prompts q ON q.wording_id = g.wording_id JOIN entries e ON e.generation_id = g.id
    JOIN entrants n ON n.id = g.entrant_id
  WHERE q.edition_id = $1 AND e.edited_from IS NULL ORDER BY q.position, n.name, g.take, g.turn, g.round`;

/** Each sort by itself, so that the many answers do not keep the few notes out: edition $1, words as a query $2, the first word $3, how many $4. */
export const SEARCH = [ENTRANTS, PROMPTS, SHEET_NOTES, VOTER_NOTES, FINDINGS, ANSWERS]
  .map((query) => `(${query} LIMIT $4)`)
  .join(" UNION ALL ");
