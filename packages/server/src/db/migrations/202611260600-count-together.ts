import type { Migration } from "../migration.js";

/**
 * Ballots that are stored by one statement are counted by one, each count touched once. What is derived from rows that have their references
 * checked has none of its own: a check locks the row it looks at, and all ballots would share those locks.
 */
const UP = `
ALTER TABLE prompt_tallies DROP CONSTRAINT prompt_tallies_prompt_id_fkey, DROP CONSTRAINT prompt_tallies_left_entrant_id_fkey,
  DROP CONSTRAINT prompt_tallies_right_entrant_id_fkey;
ALTER TABLE voter_tallies DROP CONSTRAINT voter_tallies_voter_id_fkey, DROP CONSTRAINT voter_tallies_edition_id_fkey,
  DROP CONSTRAINT voter_tallies_left_entrant_id_fkey, DROP CONSTRAINT voter_tallies_right_entrant_id_fkey;
ALTER TABLE voter_prompt_tallies DROP CONSTRAINT voter_prompt_tallies_prompt_id_fkey, DROP CONSTRAINT voter_prompt_tallies_voter_id_fkey;
ALTER TABLE bouts DROP CONSTRAINT bouts_left_entrant_id_fkey, DROP CONSTRAINT bouts_right_entrant_id_fkey;

CREATE FUNCTION count_cast_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- Locked against being left out, or taken in again, while their ballots are counted.
  PERFORM FROM voters v WHERE v.id IN (SELECT o.voter_id FROM cast_now b JOIN bouts o ON o.id = b.bout_id) ORDER BY v.id FOR SHARE;
  INSERT INTO prompt_tallies AS t (prompt_id, left_entrant_id, right_entrant_id, lean, n, left_failures, right_failures, sample_n)
    SELECT o.prompt_id, o.left_entrant_id, o.right_entrant_id, b.lean, count(*), count(*) FILTER (WHERE NOT b.left_works),
      count(*) FILTER (WHERE NOT b.right_works), count(*) FILTER (WHERE v.sample)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4 ORDER BY 1, 2, 3, 4
    ON CONFLICT (prompt_id, left_entrant_id, right_entrant_id, lean) DO UPDATE SET n = t.n + excluded.n,
      left_failures = t.left_failures + excluded.left_failures, right_failures = t.right_failures + excluded.right_failures,
      sample_n = t.sample_n + excluded.sample_n;
  INSERT INTO voter_tallies AS t (voter_id, edition_id, kind, left_entrant_id, right_entrant_id, lean, n)
    SELECT o.voter_id, q.edition_id, q.kind, o.left_entrant_id, o.right_entrant_id, b.lean, count(*)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN prompts q ON q.id = o.prompt_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4, 5, 6 ORDER BY 2, 3, 1, 4, 5, 6
    ON CONFLICT (edition_id, kind, voter_id, left_entrant_id, right_entrant_id, lean) DO UPDATE SET n = t.n + excluded.n;
  INSERT INTO voter_prompt_tallies AS t (prompt_id, voter_id, n)
    SELECT o.prompt_id, o.voter_id, count(*)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2 ORDER BY 1, 2
    ON CONFLICT (prompt_id, voter_id) DO UPDATE SET n = t.n + excluded.n;
  RETURN NULL;
END $$;
DROP TRIGGER ballots_are_counted ON ballots;
CREATE TRIGGER ballots_are_counted AFTER INSERT ON ballots REFERENCING NEW TABLE AS cast_now
  FOR EACH STATEMENT EXECUTE FUNCTION count_cast_ballots();
CREATE TRIGGER ballots_stay_counted AFTER UPDATE OR DELETE ON ballots FOR EACH ROW EXECUTE FUNCTION keep_tallies();
`;

const DOWN = `
DROP TRIGGER ballots_are_counted ON ballots;
DROP TRIGGER ballots_stay_counted ON ballots;
CREATE TRIGGER ballots_are_counted AFTER INSERT OR UPDATE OR DELETE ON ballots FOR EACH ROW EXECUTE FUNCTION keep_tallies();
DROP FUNCTION count_cast_ballots;
ALTER TABLE bouts ADD FOREIGN KEY (left_entrant_id) REFERENCES entrants(id), ADD FOREIGN KEY (right_entrant_id) REFERENCES entrants(id);
ALTER TABLE voter_prompt_tallies ADD FOREIGN KEY (prompt_id) REFERENCES prompts(id), ADD FOREIGN KEY (voter_id) REFERENCES voters(id);
ALTER TABLE voter_tallies ADD FOREIGN KEY (voter_id) REFERENCES voters(id), ADD FOREIGN KEY (edition_id) REFERENCES editions(id),
  ADD FOREIGN KEY (left_entrant_id) REFERENCES entrants(id), ADD FOREIGN KEY (right_entrant_id) REFERENCES entrants(id);
ALTER TABLE prompt_tallies ADD FOREIGN KEY (prompt_id) REFERENCES prompts(id), ADD FOREIGN KEY (left_entrant_id) REFERENCES entrants(id),
  ADD FOREIGN KEY (right_entrant_id) REFERENCES entrants(id);
`;

export const countTogether: Migration = {
  name: "202611260600-count-together",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
