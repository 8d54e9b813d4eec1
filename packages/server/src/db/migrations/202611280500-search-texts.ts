import type { Migration } from "../migration.js";

/**
 * Full text over answers, findings and notes. Words are what stands between signs that are neither letter nor digit, so that code and prose are found alike: the
 * database's own parser takes "a < b && c > d" for a tag and leaves it out. Whatever a text is, it can be kept: one that has too many words for an index is
 * kept without being found. The function's cost is set high, which it is: read row by row it would take seconds, and the planner is to take the index.
 */
export const searchTexts: Migration = {
  name: "202611280500-search-texts",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE FUNCTION searchable(content text) RETURNS tsvector LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE COST 10000 AS $$
       BEGIN
         RETURN to_tsvector('simple', regexp_replace(left(content, 150000), '[^[:alnum:]]+', ' ', 'g'));
       EXCEPTION WHEN program_limit_exceeded THEN
         RETURN ''::tsvector;
       END $$;
       CREATE INDEX generations_by_words ON generations USING gin (searchable(answer));
       CREATE INDEX renders_by_findings ON renders USING gin (searchable(recording->>'findings'));
       CREATE INDEX ballots_by_note ON ballots USING gin (searchable(note)) WHERE note <> '';`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(
      "DROP INDEX ballots_by_note, renders_by_findings, generations_by_words; DROP FUNCTION searchable(text);",
      { transaction },
    );
  },
};
