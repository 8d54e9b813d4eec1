import type { Migration } from "../migration.js";

/**
 * Panels say what they show, until when, and what becomes of entries that show nothing. Voters may be invited by links of their own and
 * left out of the ratings again; every such step, and every ballot voided, leaves a line in the audit trail.
 */
const UP = `
ALTER TABLE panels
  ADD COLUMN prompt_ids uuid[],
  ADD COLUMN entrant_ids uuid[],
  ADD COLUMN closes_at timestamptz,
  ADD COLUMN asks_reasons boolean NOT NULL DEFAULT true,
  ADD COLUMN broken_rule text NOT NULL DEFAULT 'pair' CHECK (broken_rule IN ('pair', 'lose', 'leave_out')),
  ADD COLUMN link_closed_at timestamptz;

ALTER TABLE voters
  ADD COLUMN personal_token text UNIQUE CHECK (length(personal_token) >= 22),
  ADD COLUMN is_lead boolean NOT NULL DEFAULT false,
  ADD COLUMN revoked_at timestamptz,
  ADD COLUMN left_out_at timestamptz,
  ADD COLUMN left_out_why text,
  ADD CHECK ((left_out_at IS NULL) = (left_out_why IS NULL));

ALTER TABLE bouts
  ADD COLUMN skipped_at timestamptz,
  ADD COLUMN skip_reason text,
  ADD COLUMN is_automatic boolean NOT NULL DEFAULT false,
  -- Whose entries they are, once more: choosing the next bout looks at nothing else of the earlier ones.
  ADD COLUMN left_entrant_id uuid REFERENCES entrants(id),
  ADD COLUMN right_entrant_id uuid REFERENCES entrants(id),
  ADD CHECK ((skipped_at IS NULL) = (skip_reason IS NULL));
UPDATE bouts o SET left_entrant_id = gl.entrant_id, right_entrant_id = gr.entrant_id
  FROM entries el JOIN generations gl ON gl.id = el.generation_id, entries er JOIN generations gr ON gr.id = er.generation_id
  WHERE el.id = o.left_entry_id AND er.id = o.right_entry_id;
ALTER TABLE bouts ALTER COLUMN left_entrant_id SET NOT NULL, ALTER COLUMN right_entrant_id SET NOT NULL;

ALTER TABLE ballots
  ADD COLUMN left_touched boolean,
  ADD COLUMN right_touched boolean,
  ADD COLUMN renderer_version text,
  ADD COLUMN mask_version text,
  ADD COLUMN voided_by text CHECK (voided_by IN ('voter', 'lead'));
UPDATE ballots SET voided_by = 'voter' WHERE voided_at IS NOT NULL;
CREATE INDEX ballots_in_time ON ballots (cast_at);

CREATE TABLE booth_exclusions (
  entry_id uuid PRIMARY KEY REFERENCES entries(id),
  why text NOT NULL,
  excluded_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE audit_trail (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL DEFAULT now(),
  actor text NOT NULL CHECK (actor IN ('lead', 'voter', 'tourney')),
  action text NOT NULL,
  panel_id uuid REFERENCES panels(id),
  voter_id uuid REFERENCES voters(id),
  detail jsonb NOT NULL DEFAULT '{}'
);
CREATE TRIGGER audit_trail_never_changes BEFORE UPDATE OR DELETE ON audit_trail
  FOR EACH ROW EXECUTE FUNCTION refuse_change();

-- Whoever writes ballots tells of them afterwards: a notification inside the transaction would make all commits take turns.
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

CREATE OR REPLACE FUNCTION keep_tallies() RETURNS trigger LANGUAGE plpgsql AS $$
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
CREATE TRIGGER voters_are_counted AFTER UPDATE OF left_out_at ON voters FOR EACH ROW EXECUTE FUNCTION count_voter();
`;

const DOWN = `
UPDATE voters SET left_out_at = NULL, left_out_why = NULL WHERE left_out_at IS NOT NULL;
DROP TRIGGER voters_are_counted ON voters;
DROP FUNCTION count_voter;
CREATE OR REPLACE FUNCTION keep_tallies() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP IN ('UPDATE', 'DELETE') AND OLD.voided_at IS NULL THEN
    PERFORM count_ballot(OLD, -1);
  END IF;
  IF TG_OP IN ('INSERT', 'UPDATE') AND NEW.voided_at IS NULL THEN
    PERFORM count_ballot(NEW, 1);
  END IF;
  RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION count_ballot(ballot ballots, step integer) RETURNS void LANGUAGE plpgsql AS $$
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
DROP TABLE audit_trail, booth_exclusions;
DROP INDEX ballots_in_time;
ALTER TABLE ballots DROP COLUMN left_touched, DROP COLUMN right_touched, DROP COLUMN renderer_version,
  DROP COLUMN mask_version, DROP COLUMN voided_by;
ALTER TABLE bouts DROP COLUMN skipped_at, DROP COLUMN skip_reason, DROP COLUMN is_automatic, DROP COLUMN left_entrant_id,
  DROP COLUMN right_entrant_id;
ALTER TABLE voters DROP COLUMN personal_token, DROP COLUMN is_lead, DROP COLUMN revoked_at, DROP COLUMN left_out_at,
  DROP COLUMN left_out_why;
ALTER TABLE panels DROP COLUMN prompt_ids, DROP COLUMN entrant_ids, DROP COLUMN closes_at, DROP COLUMN asks_reasons,
  DROP COLUMN broken_rule, DROP COLUMN link_closed_at;
`;

export const deepenVoting: Migration = {
  name: "202611260000-deepen-voting",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
