import type { Migration } from "../migration.js";

/**
 * For each voter the last transaction that changed what its ballots come to. Whoever holds ballots reads those of the voters that changed since, and knows that
 * nothing else did. A row a voter: it does not grow with the ballots.
 */
const UP = `
CREATE TABLE counted_voters (
  voter_id uuid PRIMARY KEY,
  changed_in bigint NOT NULL DEFAULT pg_current_xact_id()::text::bigint
);
CREATE INDEX counted_voters_by_change ON counted_voters (changed_in);
INSERT INTO counted_voters (voter_id) SELECT id FROM voters;

CREATE FUNCTION note_voters(ids uuid[]) RETURNS void LANGUAGE sql AS $$
  INSERT INTO counted_voters (voter_id) SELECT DISTINCT id FROM unnest(ids) id ORDER BY id
  ON CONFLICT (voter_id) DO UPDATE SET changed_in = DEFAULT;
$$;
CREATE FUNCTION note_voters_of_ballots() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM note_voters((SELECT array_agg(o.voter_id) FROM bouts o WHERE o.id IN (SELECT bout_id FROM changed_now)));
  RETURN NULL;
END $$;
CREATE FUNCTION note_voter() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM note_voters(ARRAY[NEW.id]);
  RETURN NULL;
END $$;
CREATE TRIGGER ballots_note_voters_new AFTER INSERT ON ballots REFERENCING NEW TABLE AS changed_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER ballots_note_voters_changed AFTER UPDATE ON ballots REFERENCING NEW TABLE AS changed_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER ballots_note_voters_gone AFTER DELETE ON ballots REFERENCING OLD TABLE AS changed_now FOR EACH STATEMENT EXECUTE FUNCTION note_voters_of_ballots();
CREATE TRIGGER voters_are_noted AFTER UPDATE OF left_out_at ON voters FOR EACH ROW EXECUTE FUNCTION note_voter();
`;

const DOWN = `
DROP TRIGGER ballots_note_voters_new ON ballots;
DROP TRIGGER ballots_note_voters_changed ON ballots;
DROP TRIGGER ballots_note_voters_gone ON ballots;
DROP TRIGGER voters_are_noted ON voters;
DROP FUNCTION note_voters_of_ballots, note_voter, note_voters;
DROP TABLE counted_voters;
`;

export const knowChangedVoters: Migration = {
  name: "202611282300-know-changed-voters",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
