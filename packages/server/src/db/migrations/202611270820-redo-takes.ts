import type { Migration } from "../migration.js";

/**
 * A take can be redone for a reason: the old answer is superseded and stays readable. An answer by another model than was asked for is kept
 * from voters until the lead accepts it. Panels say what becomes of places for which a model delivered no page.
 */
const UP = `
CREATE TABLE redos (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  edition_id uuid NOT NULL REFERENCES editions(id),
  reason text NOT NULL CHECK (length(reason) BETWEEN 3 AND 500),
  created_at timestamptz NOT NULL DEFAULT now(),
  undone_at timestamptz
);
ALTER TABLE runs ADD COLUMN redo_id uuid REFERENCES redos(id);

ALTER TABLE generations
  ADD COLUMN superseded_at timestamptz,
  -- The redo that set this answer aside, and the one that asked for it.
  ADD COLUMN superseded_by uuid REFERENCES redos(id),
  ADD COLUMN redo_id uuid REFERENCES redos(id),
  -- A reported name may add a date or a build to the one that was asked for; anything else is another model.
  ADD COLUMN is_mismatch boolean NOT NULL GENERATED ALWAYS AS (coalesce(reported_model <> requested_model
    AND NOT starts_with(reported_model, requested_model || '-')
    AND right(requested_model, length(reported_model) + 1) <> '/' || reported_model, false)) STORED,
  ADD COLUMN mismatch_accepted_at timestamptz,
  ADD COLUMN hand_help text,
  ADD COLUMN off_task text,
  ADD CHECK (superseded_by IS NULL OR superseded_at IS NOT NULL);
DROP INDEX generations_one_a_place;
-- One answer holds in each place; those that were set aside stay beside it.
CREATE UNIQUE INDEX generations_one_a_place ON generations (wording_id, version_id, take, turn, round) WHERE superseded_at IS NULL;
CREATE INDEX generations_superseded ON generations (superseded_by) WHERE superseded_by IS NOT NULL;
CREATE INDEX generations_redone ON generations (redo_id) WHERE redo_id IS NOT NULL;

ALTER TABLE attempts ADD COLUMN first_text_ms double precision;

ALTER TABLE panels ADD COLUMN undelivered_rule text NOT NULL DEFAULT 'lose' CHECK (undelivered_rule IN ('lose', 'leave_out'));
-- Panels that were made before this rule go on as they were told; only those that let broken pages lose meant this too.
UPDATE panels SET undelivered_rule = 'leave_out' WHERE broken_rule <> 'lose';

ALTER TABLE ballots DROP CONSTRAINT ballots_voided_by_check,
  ADD CONSTRAINT ballots_voided_by_check CHECK (voided_by IN ('voter', 'lead', 'redo', 'mismatch'));
CREATE INDEX ballots_set_aside ON ballots (bout_id) WHERE voided_by IN ('redo', 'mismatch');
`;

const DOWN = `
DO $$ BEGIN
  IF EXISTS (SELECT FROM generations WHERE superseded_at IS NOT NULL) THEN
    RAISE EXCEPTION 'Answers that were redone cannot be kept by the older schema' USING HINT = 'Undo the redos first';
  END IF;
END $$;
DROP INDEX ballots_set_aside;
UPDATE ballots SET voided_by = 'lead' WHERE voided_by IN ('redo', 'mismatch');
ALTER TABLE ballots DROP CONSTRAINT ballots_voided_by_check,
  ADD CONSTRAINT ballots_voided_by_check CHECK (voided_by IN ('voter', 'lead'));
ALTER TABLE panels DROP COLUMN undelivered_rule;
ALTER TABLE attempts DROP COLUMN first_text_ms;
DROP INDEX generations_one_a_place;
ALTER TABLE generations DROP COLUMN superseded_at, DROP COLUMN superseded_by, DROP COLUMN redo_id, DROP COLUMN is_mismatch,
  DROP COLUMN mismatch_accepted_at, DROP COLUMN hand_help, DROP COLUMN off_task;
CREATE UNIQUE INDEX generations_one_a_place ON generations (wording_id, version_id, take, turn, round);
ALTER TABLE runs DROP COLUMN redo_id;
DROP TABLE redos;
`;

export const redoTakes: Migration = {
  name: "202611270820-redo-takes",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
