import type { Migration } from "../migration.js";
import { COPY_NEW, INDEX_LEANS, VACUUM_OFTEN } from "./202612010800-copy-leans.js";

/** What `entry_outcomes` holds, counted from all bouts at once. */
export const COUNT_OUTCOMES = `
INSERT INTO entry_outcomes (entry_id, wording_id, won, lost, even)
  SELECT entry_id, wording_id, coalesce(sum(n) FILTER (WHERE lean > 0), 0), coalesce(sum(n) FILTER (WHERE lean < 0), 0), coalesce(sum(n) FILTER (WHERE lean = 0), 0)
  FROM (SELECT coalesce(left_entry_id, right_entry_id) AS entry_id, wording_id, CASE WHEN right_entry_id IS NULL THEN -cast_lean ELSE cast_lean END AS lean, count(*) AS n
    FROM bouts WHERE cast_lean IS NOT NULL AND contest = 'entrants' AND NOT is_repeat
    GROUP BY GROUPING SETS ((wording_id, left_entry_id, cast_lean), (wording_id, right_entry_id, cast_lean))) of_sides
  GROUP BY 1, 2;
`;

/**
 * Triggers count wins, losses and ties by entry as ballots come. Before, Compare counted them at each request from an index of all leans: 20,000 bouts for one prompt of a suite with two
 * million ballots. That index is dropped, so PostgreSQL can write a bout's lean without touching the table's other indexes.
 *
 * A ballot inserts one row for each of its two entries, and one ballot in 128 replaces the rows of its wording by one sum for each entry. With a single row for each entry, an import of
 * ballots or a redo would lock that row until its transaction ends, and voters would wait.
 */
const UP = `
DROP INDEX bouts_with_leans;
ALTER TABLE bouts RESET (autovacuum_vacuum_scale_factor, autovacuum_vacuum_insert_scale_factor);
ALTER TABLE bouts SET (fillfactor = 85);

-- Without references: bouts have them, and each would be looked up with each ballot.
CREATE TABLE entry_outcomes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  entry_id uuid NOT NULL,
  wording_id uuid NOT NULL,
  won integer NOT NULL,
  lost integer NOT NULL,
  even integer NOT NULL
);
CREATE INDEX entry_outcomes_by_wording ON entry_outcomes (wording_id);
${COUNT_OUTCOMES}
-- Skips rows that another transaction has locked to sum them up, so that no transaction waits.
CREATE FUNCTION sum_up_outcomes(wordings uuid[]) RETURNS void LANGUAGE sql AS $$
  WITH taken AS (SELECT id FROM entry_outcomes WHERE wording_id = ANY(wordings) FOR UPDATE SKIP LOCKED),
    gone AS (DELETE FROM entry_outcomes p USING taken t WHERE p.id = t.id RETURNING p.entry_id, p.wording_id, p.won, p.lost, p.even)
  INSERT INTO entry_outcomes (entry_id, wording_id, won, lost, even)
    SELECT entry_id, wording_id, sum(won), sum(lost), sum(even) FROM gone GROUP BY 1, 2;
$$;

-- A bout has at most one ballot that is not voided, a ballot never changes its bout, and a bout never its entries or its contest.
CREATE OR REPLACE FUNCTION copy_leans() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  due uuid[];
BEGIN
  WITH changed AS MATERIALIZED (
      SELECT o.id, o.wording_id, o.left_entry_id, o.right_entry_id, o.cast_lean AS was, c.lean, o.contest = 'entrants' AND NOT o.is_repeat AS is_counted
      FROM (SELECT t.bout_id, max(b.lean) AS lean FROM touched_now t LEFT JOIN ballots b ON b.bout_id = t.bout_id AND b.voided_at IS NULL GROUP BY 1) c
        JOIN bouts o ON o.id = c.bout_id
      WHERE o.cast_lean IS DISTINCT FROM c.lean),
    copied AS (UPDATE bouts o SET cast_lean = c.lean FROM changed c WHERE o.id = c.id),
    added AS (
      INSERT INTO entry_outcomes (entry_id, wording_id, won, lost, even)
      SELECT s.entry_id, c.wording_id, coalesce(sum(s.n) FILTER (WHERE s.lean > 0), 0), coalesce(sum(s.n) FILTER (WHERE s.lean < 0), 0),
        coalesce(sum(s.n) FILTER (WHERE s.lean = 0), 0)
      FROM changed c CROSS JOIN LATERAL (VALUES (c.left_entry_id, -c.lean, 1), (c.right_entry_id, c.lean, 1), (c.left_entry_id, -c.was, -1), (c.right_entry_id, c.was, -1))
        AS s(entry_id, lean, n)
      WHERE c.is_counted AND s.lean IS NOT NULL GROUP BY 1, 2 RETURNING id, wording_id)
  SELECT array_agg(DISTINCT wording_id) INTO due FROM added WHERE id % 256 = 0;
  IF due IS NOT NULL THEN
    PERFORM sum_up_outcomes(due);
  END IF;
  RETURN NULL;
END $$;
`;

const DOWN = `
DROP TABLE entry_outcomes;
DROP FUNCTION sum_up_outcomes;
ALTER TABLE bouts RESET (fillfactor);
${VACUUM_OFTEN}
${INDEX_LEANS}
${COPY_NEW}
`;

export const tallyOutcomes: Migration = {
  name: "202612011400-tally-outcomes",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
