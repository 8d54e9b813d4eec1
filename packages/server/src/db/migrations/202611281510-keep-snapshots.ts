import type { Migration } from "../migration.js";

/** Standings are kept as they were at a moment, with the ballots that counted, so that two moments can be held against each other. */
export const keepSnapshots: Migration = {
  name: "202611281510-keep-snapshots",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE standings_snapshots (
         id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
         edition_id uuid NOT NULL REFERENCES editions(id),
         name text NOT NULL,
         counts jsonb NOT NULL,
         method_version text NOT NULL,
         input_digest text NOT NULL,
         ballots integer NOT NULL CHECK (ballots >= 0),
         rows jsonb NOT NULL,
         counted bytea NOT NULL,
         taken_at timestamptz NOT NULL DEFAULT now(),
         removed_at timestamptz
       );
       CREATE INDEX standings_snapshots_by_edition ON standings_snapshots (edition_id, taken_at);
       CREATE FUNCTION refuse_change_of_snapshot() RETURNS trigger LANGUAGE plpgsql AS $$
       BEGIN
         IF to_jsonb(NEW) - 'removed_at' IS DISTINCT FROM to_jsonb(OLD) - 'removed_at' THEN
           RAISE EXCEPTION 'a snapshot of standings never changes';
         END IF;
         RETURN NEW;
       END $$;
       CREATE TRIGGER snapshots_are_frozen BEFORE UPDATE ON standings_snapshots FOR EACH ROW EXECUTE FUNCTION refuse_change_of_snapshot();`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE standings_snapshots; DROP FUNCTION refuse_change_of_snapshot();", { transaction });
  },
};
