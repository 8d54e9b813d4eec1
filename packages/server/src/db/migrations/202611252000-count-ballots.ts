import type { Migration } from "../migration.js";

/**
 * Ballots are counted as they are cast, taken back and voided, in the same transaction, whatever writes them: by prompt, by voter,
 * and how many a voter cast on a prompt. Ratings are fitted to these counts. Each change is also told to whoever listens.
 *
 * A voter may be shown a bout once more with the sides exchanged; without that mark, two entries meet once for a voter.
 */
const UP = `
CREATE TABLE prompt_tallies (
  prompt_id uuid NOT NULL REFERENCES prompts(id),
  left_entrant_id uuid NOT NULL REFERENCES entrants(id),
  right_entrant_id uuid NOT NULL REFERENCES entrants(id),
  lean integer NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  left_failures integer NOT NULL DEFAULT 0 CHECK (left_failures >= 0),
  right_failures integer NOT NULL DEFAULT 0 CHECK (right_failures >= 0),
  sample_n integer NOT NULL DEFAULT 0 CHECK (sample_n >= 0),
  PRIMARY KEY (prompt_id, left_entrant_id, right_entrant_id, lean)
);
CREATE TABLE voter_tallies (
  voter_id uuid NOT NULL REFERENCES voters(id),
  edition_id uuid NOT NULL REFERENCES editions(id),
  kind text NOT NULL,
  left_entrant_id uuid NOT NULL REFERENCES entrants(id),
  right_entrant_id uuid NOT NULL REFERENCES entrants(id),
  lean integer NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  PRIMARY KEY (edition_id, kind, voter_id, left_entrant_id, right_entrant_id, lean)
);
CREATE TABLE voter_prompt_tallies (
  prompt_id uuid NOT NULL REFERENCES prompts(id),
  voter_id uuid NOT NULL REFERENCES voters(id),
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  PRIMARY KEY (prompt_id, voter_id)
);
CREATE INDEX voter_prompt_tallies_several ON voter_prompt_tallies (prompt_id) WHERE n > 1;

CREATE FUNCTION count_ballot(ballot ballots, step integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  bout record;
BEGIN
  SELECT o.prompt_id, o.voter_id, q.edition_id, q.kind, v.sample, gl.entrant_id AS l, gr.entrant_id AS r INTO STRICT bout
  FROM bouts o JOIN prompts q ON q.id = o.prompt_id JOIN voters v ON v.id = o.voter_id
    JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
    JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
  WHERE o.id = ballot.bout_id;
  -- A row is made empty first: adding to it is then the same for the first ballot and for any other.
  INSERT INTO prompt_tallies (prompt_id, left_entrant_id, right_entrant_id, lean) VALUES (bout.prompt_id, bout.l, bout.r, ballot.lean)
    ON CONFLICT DO NOTHING;
  UPDATE prompt_tallies SET n = n + step, left_failures = left_failures + step * (NOT ballot.left_works)::int,
    right_failures = right_failures + step * (NOT ballot.right_works)::int, sample_n = sample_n + step * bout.sample::int
  WHERE prompt_id = bout.prompt_id AND left_entrant_id = bout.l AND right_entrant_id = bout.r AND lean = ballot.lean;
  INSERT INTO voter_tallies (voter_id, edition_id, kind, left_entrant_id, right_entrant_id, lean)
    VALUES (bout.voter_id, bout.edition_id, bout.kind, bout.l, bout.r, ballot.lean) ON CONFLICT DO NOTHING;
  UPDATE voter_tallies SET n = n + step WHERE edition_id = bout.edition_id AND kind = bout.kind AND voter_id = bout.voter_id
    AND left_entrant_id = bout.l AND right_entrant_id = bout.r AND lean = ballot.lean;
  INSERT INTO voter_prompt_tallies (prompt_id, voter_id) VALUES (bout.prompt_id, bout.voter_id) ON CONFLICT DO NOTHING;
  UPDATE voter_prompt_tallies SET n = n + step WHERE prompt_id = bout.prompt_id AND voter_id = bout.voter_id;
  PERFORM pg_notify('tourney_ballots', bout.edition_id::text);
END $$;

CREATE FUNCTION keep_tallies() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP IN ('UPDATE', 'DELETE') AND OLD.voided_at IS NULL THEN
    PERFORM count_ballot(OLD, -1);
  END IF;
  IF TG_OP IN ('INSERT', 'UPDATE') AND NEW.voided_at IS NULL THEN
    PERFORM count_ballot(NEW, 1);
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER ballots_are_counted AFTER INSERT OR UPDATE OR DELETE ON ballots FOR EACH ROW EXECUTE FUNCTION keep_tallies();
SELECT count_ballot(b, 1) FROM ballots b WHERE b.voided_at IS NULL;

CREATE TABLE rating_snapshots (
  edition_id uuid NOT NULL REFERENCES editions(id),
  kind text,
  method_version text NOT NULL,
  input_digest text NOT NULL CHECK (length(input_digest) = 64),
  ballots integer NOT NULL,
  ratings jsonb NOT NULL,
  counted_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX rating_snapshots_once ON rating_snapshots (edition_id, coalesce(kind, ''), method_version, input_digest);
CREATE INDEX rating_snapshots_in_time ON rating_snapshots (edition_id, counted_at);

ALTER TABLE bouts ADD COLUMN is_repeat boolean NOT NULL DEFAULT false;
DROP INDEX bouts_never_repeat;
CREATE UNIQUE INDEX bouts_never_repeat ON bouts
  (voter_id, least(left_entry_id, right_entry_id), greatest(left_entry_id, right_entry_id), is_repeat);
`;

const DOWN = `
DELETE FROM ballots WHERE bout_id IN (SELECT id FROM bouts WHERE is_repeat);
DELETE FROM bouts WHERE is_repeat;
DROP INDEX bouts_never_repeat;
ALTER TABLE bouts DROP COLUMN is_repeat;
CREATE UNIQUE INDEX bouts_never_repeat ON bouts
  (voter_id, least(left_entry_id, right_entry_id), greatest(left_entry_id, right_entry_id));
DROP TABLE rating_snapshots;
DROP TRIGGER ballots_are_counted ON ballots;
DROP FUNCTION keep_tallies;
DROP FUNCTION count_ballot;
DROP TABLE voter_prompt_tallies, voter_tallies, prompt_tallies;
`;

export const countBallots: Migration = {
  name: "202611252000-count-ballots",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
