import type { Migration } from "../migration.js";

/** What `counted_voters` keeps of each voter, counted from all ballots and bouts at once. */
export const COUNT_BY_VOTER = `
INSERT INTO counted_voters (voter_id, ballots, skipped, last_ballot_at)
  SELECT v.id, coalesce(b.n, 0), coalesce(o.n, 0), b.last FROM voters v
    LEFT JOIN (SELECT o.voter_id, count(*) FILTER (WHERE b.voided_at IS NULL) AS n, max(b.cast_at) AS last
      FROM ballots b JOIN bouts o ON o.id = b.bout_id GROUP BY 1) b ON b.voter_id = v.id
    LEFT JOIN (SELECT voter_id, count(*) AS n FROM bouts WHERE skipped_at IS NOT NULL GROUP BY 1) o ON o.voter_id = v.id
  ON CONFLICT (voter_id) DO UPDATE
    SET changed_in = DEFAULT, ballots = excluded.ballots, skipped = excluded.skipped, last_ballot_at = excluded.last_ballot_at;
`;

/**
 * A voter's ballots and passed-over bouts are counted as they come, so that nobody goes through all ballots to say how many there are. The tallies by wording go:
 * what is rated is read from the ballots themselves since they are held by the process that rates them.
 */
const UP = `
DROP TRIGGER ballots_are_counted ON ballots;
DROP TRIGGER ballots_stay_counted ON ballots;
DROP TRIGGER voters_are_counted ON voters;
DROP FUNCTION keep_tallies, count_voter, count_cast_ballots, count_ballot;
DROP TABLE wording_tallies, voter_tallies, voter_wording_tallies;

ALTER TABLE counted_voters
  ADD COLUMN ballots integer NOT NULL DEFAULT 0,
  ADD COLUMN skipped integer NOT NULL DEFAULT 0,
  ADD COLUMN last_ballot_at timestamptz;
${COUNT_BY_VOTER}
DROP TRIGGER ballots_note_voters_new ON ballots;
DROP TRIGGER ballots_note_voters_changed ON ballots;
DROP TRIGGER ballots_note_voters_gone ON ballots;
-- Voters in order, so that two statements never wait for each other.
CREATE OR REPLACE FUNCTION note_voters_of_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP <> 'INSERT' THEN
    INSERT INTO counted_voters AS c (voter_id, ballots)
      SELECT o.voter_id, -count(*) FILTER (WHERE b.voided_at IS NULL) FROM gone_now b JOIN bouts o ON o.id = b.bout_id GROUP BY 1 ORDER BY 1
      ON CONFLICT (voter_id) DO UPDATE SET changed_in = DEFAULT, ballots = c.ballots + excluded.ballots;
  END IF;
  IF TG_OP <> 'DELETE' THEN
    INSERT INTO counted_voters AS c (voter_id, ballots, last_ballot_at)
      SELECT o.voter_id, count(*) FILTER (WHERE b.voided_at IS NULL), max(b.cast_at) FROM come_now b JOIN bouts o ON o.id = b.bout_id GROUP BY 1 ORDER BY 1
      ON CONFLICT (voter_id) DO UPDATE SET changed_in = DEFAULT, ballots = c.ballots + excluded.ballots,
        last_ballot_at = greatest(c.last_ballot_at, excluded.last_ballot_at);
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER ballots_note_voters_new AFTER INSERT ON ballots REFERENCING NEW TABLE AS come_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER ballots_note_voters_changed AFTER UPDATE ON ballots REFERENCING OLD TABLE AS gone_now NEW TABLE AS come_now
  FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER ballots_note_voters_gone AFTER DELETE ON ballots REFERENCING OLD TABLE AS gone_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();

-- What is passed over changes no rating.
CREATE FUNCTION count_skip() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO counted_voters AS c (voter_id, skipped) VALUES (NEW.voter_id, CASE WHEN NEW.skipped_at IS NULL THEN -1 ELSE 1 END)
    ON CONFLICT (voter_id) DO UPDATE SET skipped = c.skipped + excluded.skipped;
  RETURN NULL;
END $$;
CREATE TRIGGER bouts_come_skipped AFTER INSERT ON bouts FOR EACH ROW WHEN (NEW.skipped_at IS NOT NULL) EXECUTE FUNCTION count_skip();
CREATE TRIGGER bouts_are_skipped AFTER UPDATE OF skipped_at ON bouts FOR EACH ROW
  WHEN ((OLD.skipped_at IS NULL) <> (NEW.skipped_at IS NULL)) EXECUTE FUNCTION count_skip();
`;

/** As they were before. */
const TALLIES = `
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

CREATE FUNCTION count_ballot(ballot ballots, step integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  bout record;
BEGIN
  SELECT o.wording_id, o.voter_id, v.sample, o.left_version_id AS l, o.right_version_id AS r INTO bout
  FROM rated_bouts o JOIN voters v ON v.id = o.voter_id WHERE o.id = ballot.bout_id; IF NOT FOUND THEN RETURN; END IF;
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
CREATE FUNCTION keep_tallies() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  is_left_out boolean;
BEGIN
  -- Locked against being left out, or taken in again, while this ballot is counted.
  SELECT v.left_out_at IS NOT NULL INTO STRICT is_left_out FROM bouts o JOIN voters v ON v.id = o.voter_id
    WHERE o.id = coalesce(NEW.bout_id, OLD.bout_id) FOR SHARE OF v;
  IF is_left_out THEN
    RETURN NULL;
  END IF;
  IF TG_OP IN ('UPDATE', 'DELETE') AND OLD.voided_at IS NULL THEN
    PERFORM count_ballot(OLD, -1);
  END IF;
  IF TG_OP IN ('INSERT', 'UPDATE') AND NEW.voided_at IS NULL THEN
    PERFORM count_ballot(NEW, 1);
  END IF;
  RETURN NULL;
END $$;
CREATE FUNCTION count_voter() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (OLD.left_out_at IS NULL) <> (NEW.left_out_at IS NULL) THEN
    PERFORM count_ballot(b, CASE WHEN NEW.left_out_at IS NULL THEN 1 ELSE -1 END)
      FROM ballots b JOIN bouts o ON o.id = b.bout_id WHERE o.voter_id = NEW.id AND b.voided_at IS NULL;
  END IF;
  RETURN NULL;
END $$;
CREATE FUNCTION count_cast_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- Locked against being left out, or taken in again, while their ballots are counted.
  PERFORM FROM voters v WHERE v.id IN (SELECT o.voter_id FROM cast_now b JOIN rated_bouts o ON o.id = b.bout_id) ORDER BY v.id FOR SHARE;
  INSERT INTO wording_tallies AS t (wording_id, left_version_id, right_version_id, lean, n, left_failures, right_failures, sample_n)
    SELECT o.wording_id, o.left_version_id, o.right_version_id, b.lean, count(*), count(*) FILTER (WHERE NOT b.left_works),
      count(*) FILTER (WHERE NOT b.right_works), count(*) FILTER (WHERE v.sample)
    FROM cast_now b JOIN rated_bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4 ORDER BY 1, 2, 3, 4
    ON CONFLICT (wording_id, left_version_id, right_version_id, lean) DO UPDATE SET n = t.n + excluded.n,
      left_failures = t.left_failures + excluded.left_failures, right_failures = t.right_failures + excluded.right_failures,
      sample_n = t.sample_n + excluded.sample_n;
  INSERT INTO voter_tallies AS t (wording_id, voter_id, left_version_id, right_version_id, lean, n)
    SELECT o.wording_id, o.voter_id, o.left_version_id, o.right_version_id, b.lean, count(*)
    FROM cast_now b JOIN rated_bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4, 5 ORDER BY 1, 2, 3, 4, 5
    ON CONFLICT (wording_id, voter_id, left_version_id, right_version_id, lean) DO UPDATE SET n = t.n + excluded.n;
  INSERT INTO voter_wording_tallies AS t (wording_id, voter_id, n)
    SELECT o.wording_id, o.voter_id, count(*)
    FROM cast_now b JOIN rated_bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2 ORDER BY 1, 2
    ON CONFLICT (wording_id, voter_id) DO UPDATE SET n = t.n + excluded.n;
  RETURN NULL;
END $$;

INSERT INTO wording_tallies (wording_id, left_version_id, right_version_id, lean, n, left_failures, right_failures, sample_n)
  SELECT o.wording_id, o.left_version_id, o.right_version_id, b.lean, count(*), count(*) FILTER (WHERE NOT b.left_works),
    count(*) FILTER (WHERE NOT b.right_works), count(*) FILTER (WHERE v.sample)
  FROM ballots b JOIN rated_bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
  WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4;
INSERT INTO voter_tallies (wording_id, voter_id, left_version_id, right_version_id, lean, n)
  SELECT o.wording_id, o.voter_id, o.left_version_id, o.right_version_id, b.lean, count(*)
  FROM ballots b JOIN rated_bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
  WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4, 5;
INSERT INTO voter_wording_tallies (wording_id, voter_id, n)
  SELECT wording_id, voter_id, sum(n) FROM voter_tallies GROUP BY 1, 2;
CREATE TRIGGER ballots_are_counted AFTER INSERT ON ballots REFERENCING NEW TABLE AS cast_now
  FOR EACH STATEMENT EXECUTE FUNCTION count_cast_ballots();
CREATE TRIGGER ballots_stay_counted AFTER UPDATE OR DELETE ON ballots FOR EACH ROW EXECUTE FUNCTION keep_tallies();
CREATE TRIGGER voters_are_counted AFTER UPDATE OF left_out_at ON voters FOR EACH ROW EXECUTE FUNCTION count_voter();
`;

const DOWN = `
DROP TRIGGER bouts_come_skipped ON bouts;
DROP TRIGGER bouts_are_skipped ON bouts;
DROP FUNCTION count_skip;
DROP TRIGGER ballots_note_voters_new ON ballots;
DROP TRIGGER ballots_note_voters_changed ON ballots;
DROP TRIGGER ballots_note_voters_gone ON ballots;
CREATE OR REPLACE FUNCTION note_voters_of_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM note_voters((SELECT array_agg(o.voter_id) FROM bouts o WHERE o.id IN (SELECT bout_id FROM changed_now)));
  RETURN NULL;
END $$;
CREATE TRIGGER ballots_note_voters_new AFTER INSERT ON ballots REFERENCING NEW TABLE AS changed_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER ballots_note_voters_changed AFTER UPDATE ON ballots REFERENCING NEW TABLE AS changed_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER ballots_note_voters_gone AFTER DELETE ON ballots REFERENCING OLD TABLE AS changed_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
ALTER TABLE counted_voters DROP COLUMN ballots, DROP COLUMN skipped, DROP COLUMN last_ballot_at;
${TALLIES}
`;

export const countByVoter: Migration = {
  name: "202611290500-count-by-voter",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
