import type { Migration } from "../migration.js";

/**
 * Ballots are counted by wording and by the versions that met, so that every edition and every version reads its own from the same counts.
 * Ballots on answers by another model than was asked for are set aside until the lead accepts the answer.
 */
const FILL_TALLIES = `
INSERT INTO wording_tallies (wording_id, left_version_id, right_version_id, lean, n, left_failures, right_failures, sample_n)
  SELECT o.wording_id, o.left_version_id, o.right_version_id, b.lean, count(*), count(*) FILTER (WHERE NOT b.left_works),
    count(*) FILTER (WHERE NOT b.right_works), count(*) FILTER (WHERE v.sample)
  FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
  WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4;
INSERT INTO voter_tallies (wording_id, voter_id, left_version_id, right_version_id, lean, n)
  SELECT o.wording_id, o.voter_id, o.left_version_id, o.right_version_id, b.lean, count(*)
  FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
  WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4, 5;
INSERT INTO voter_wording_tallies (wording_id, voter_id, n)
  SELECT wording_id, voter_id, sum(n) FROM voter_tallies GROUP BY 1, 2;
`;

const UP = `
DROP TRIGGER ballots_are_counted ON ballots;
DROP TRIGGER ballots_stay_counted ON ballots;
UPDATE ballots b SET voided_at = now(), void_reason = 'an entry was answered by another model than was asked for', voided_by = 'mismatch'
  FROM bouts o JOIN entries el ON el.id = o.left_entry_id JOIN generations gl ON gl.id = el.generation_id
    JOIN entries er ON er.id = o.right_entry_id JOIN generations gr ON gr.id = er.generation_id
  WHERE o.id = b.bout_id AND b.voided_at IS NULL AND (gl.is_mismatch OR gr.is_mismatch);

DROP TABLE prompt_tallies, voter_tallies, voter_prompt_tallies;
-- What is derived from rows that have their references checked has none of its own: ballots would share the locks of the check.
CREATE TABLE wording_tallies (
  wording_id uuid NOT NULL,
  left_version_id uuid NOT NULL,
  right_version_id uuid NOT NULL,
  lean integer NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  left_failures integer NOT NULL DEFAULT 0 CHECK (left_failures >= 0),
  right_failures integer NOT NULL DEFAULT 0 CHECK (right_failures >= 0),
  sample_n integer NOT NULL DEFAULT 0 CHECK (sample_n >= 0),
  PRIMARY KEY (wording_id, left_version_id, right_version_id, lean)
);
CREATE TABLE voter_tallies (
  wording_id uuid NOT NULL,
  voter_id uuid NOT NULL,
  left_version_id uuid NOT NULL,
  right_version_id uuid NOT NULL,
  lean integer NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  PRIMARY KEY (wording_id, voter_id, left_version_id, right_version_id, lean)
);
CREATE TABLE voter_wording_tallies (
  wording_id uuid NOT NULL,
  voter_id uuid NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  PRIMARY KEY (wording_id, voter_id)
);
CREATE INDEX voter_wording_tallies_several ON voter_wording_tallies (wording_id) WHERE n > 1;

CREATE OR REPLACE FUNCTION count_ballot(ballot ballots, step integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  bout record;
BEGIN
  SELECT o.wording_id, o.voter_id, v.sample, o.left_version_id AS l, o.right_version_id AS r INTO STRICT bout
  FROM bouts o JOIN voters v ON v.id = o.voter_id WHERE o.id = ballot.bout_id;
  -- A row is made empty first: adding to it is then the same for the first ballot and for any other.
  INSERT INTO wording_tallies (wording_id, left_version_id, right_version_id, lean) VALUES (bout.wording_id, bout.l, bout.r, ballot.lean)
    ON CONFLICT DO NOTHING;
  UPDATE wording_tallies SET n = n + step, left_failures = left_failures + step * (NOT ballot.left_works)::int,
    right_failures = right_failures + step * (NOT ballot.right_works)::int, sample_n = sample_n + step * bout.sample::int
  WHERE wording_id = bout.wording_id AND left_version_id = bout.l AND right_version_id = bout.r AND lean = ballot.lean;
  INSERT INTO voter_tallies (wording_id, voter_id, left_version_id, right_version_id, lean)
    VALUES (bout.wording_id, bout.voter_id, bout.l, bout.r, ballot.lean) ON CONFLICT DO NOTHING;
  UPDATE voter_tallies SET n = n + step WHERE wording_id = bout.wording_id AND voter_id = bout.voter_id
    AND left_version_id = bout.l AND right_version_id = bout.r AND lean = ballot.lean;
  INSERT INTO voter_wording_tallies (wording_id, voter_id) VALUES (bout.wording_id, bout.voter_id) ON CONFLICT DO NOTHING;
  UPDATE voter_wording_tallies SET n = n + step WHERE wording_id = bout.wording_id AND voter_id = bout.voter_id;
END $$;

CREATE OR REPLACE FUNCTION count_cast_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- Locked against being left out, or taken in again, while their ballots are counted.
  PERFORM FROM voters v WHERE v.id IN (SELECT o.voter_id FROM cast_now b JOIN bouts o ON o.id = b.bout_id) ORDER BY v.id FOR SHARE;
  INSERT INTO wording_tallies AS t (wording_id, left_version_id, right_version_id, lean, n, left_failures, right_failures, sample_n)
    SELECT o.wording_id, o.left_version_id, o.right_version_id, b.lean, count(*), count(*) FILTER (WHERE NOT b.left_works),
      count(*) FILTER (WHERE NOT b.right_works), count(*) FILTER (WHERE v.sample)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4 ORDER BY 1, 2, 3, 4
    ON CONFLICT (wording_id, left_version_id, right_version_id, lean) DO UPDATE SET n = t.n + excluded.n,
      left_failures = t.left_failures + excluded.left_failures, right_failures = t.right_failures + excluded.right_failures,
      sample_n = t.sample_n + excluded.sample_n;
  INSERT INTO voter_tallies AS t (wording_id, voter_id, left_version_id, right_version_id, lean, n)
    SELECT o.wording_id, o.voter_id, o.left_version_id, o.right_version_id, b.lean, count(*)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5
    ON CONFLICT (wording_id, voter_id, left_version_id, right_version_id, lean) DO UPDATE SET n = t.n + excluded.n;
  INSERT INTO voter_wording_tallies AS t (wording_id, voter_id, n)
    SELECT o.wording_id, o.voter_id, count(*)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2 ORDER BY 1, 2
    ON CONFLICT (wording_id, voter_id) DO UPDATE SET n = t.n + excluded.n;
  RETURN NULL;
END $$;
${FILL_TALLIES}
-- Whose entries they are follows from the versions.
ALTER TABLE bouts DROP COLUMN left_entrant_id, DROP COLUMN right_entrant_id;
CREATE TRIGGER ballots_are_counted AFTER INSERT ON ballots REFERENCING NEW TABLE AS cast_now
  FOR EACH STATEMENT EXECUTE FUNCTION count_cast_ballots();
CREATE TRIGGER ballots_stay_counted AFTER UPDATE OR DELETE ON ballots FOR EACH ROW EXECUTE FUNCTION keep_tallies();
`;

const DOWN = `
ALTER TABLE bouts ADD COLUMN left_entrant_id uuid, ADD COLUMN right_entrant_id uuid;
UPDATE bouts o SET left_entrant_id = vl.entrant_id, right_entrant_id = vr.entrant_id FROM entrant_versions vl, entrant_versions vr
  WHERE vl.id = o.left_version_id AND vr.id = o.right_version_id;
ALTER TABLE bouts ALTER COLUMN left_entrant_id SET NOT NULL, ALTER COLUMN right_entrant_id SET NOT NULL;
DROP TABLE wording_tallies, voter_tallies, voter_wording_tallies;
CREATE TABLE prompt_tallies (
  prompt_id uuid NOT NULL,
  left_entrant_id uuid NOT NULL,
  right_entrant_id uuid NOT NULL,
  lean integer NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  left_failures integer NOT NULL DEFAULT 0 CHECK (left_failures >= 0),
  right_failures integer NOT NULL DEFAULT 0 CHECK (right_failures >= 0),
  sample_n integer NOT NULL DEFAULT 0 CHECK (sample_n >= 0),
  PRIMARY KEY (prompt_id, left_entrant_id, right_entrant_id, lean)
);
CREATE TABLE voter_tallies (
  voter_id uuid NOT NULL,
  edition_id uuid NOT NULL,
  kind text NOT NULL,
  left_entrant_id uuid NOT NULL,
  right_entrant_id uuid NOT NULL,
  lean integer NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  PRIMARY KEY (edition_id, kind, voter_id, left_entrant_id, right_entrant_id, lean)
);
CREATE TABLE voter_prompt_tallies (
  prompt_id uuid NOT NULL,
  voter_id uuid NOT NULL,
  n integer NOT NULL DEFAULT 0 CHECK (n >= 0),
  PRIMARY KEY (prompt_id, voter_id)
);
CREATE INDEX voter_prompt_tallies_several ON voter_prompt_tallies (prompt_id) WHERE n > 1;

CREATE OR REPLACE FUNCTION count_ballot(ballot ballots, step integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  bout record;
BEGIN
  SELECT o.prompt_id, o.voter_id, q.edition_id, q.kind, v.sample, o.left_entrant_id AS l, o.right_entrant_id AS r INTO STRICT bout
  FROM bouts o JOIN prompts q ON q.id = o.prompt_id JOIN voters v ON v.id = o.voter_id WHERE o.id = ballot.bout_id;
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
END $$;

CREATE OR REPLACE FUNCTION count_cast_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
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

SELECT count_ballot(b, 1) FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
  WHERE b.voided_at IS NULL AND v.left_out_at IS NULL;
`;

export const countByWording: Migration = {
  name: "202611270830-count-by-wording",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
