import type { Migration } from "../migration.js";

/** When ballots are enough is set beforehand. One plan of an edition holds; those that were given up stay on record, and a plan's words never change. */
export const planToStop: Migration = {
  name: "202611281730-plan-to-stop",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE stopping_plans (
         id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
         edition_id uuid NOT NULL REFERENCES editions(id),
         goal jsonb NOT NULL,
         most_ballots integer NOT NULL,
         looks integer NOT NULL CHECK (looks BETWEEN 1 AND 10),
         ballots_before integer NOT NULL CHECK (ballots_before >= 0),
         set_at timestamptz NOT NULL DEFAULT now(),
         given_up_at timestamptz,
         CHECK (most_ballots > ballots_before)
       );
       CREATE UNIQUE INDEX stopping_plans_one_holds ON stopping_plans (edition_id) WHERE given_up_at IS NULL;
       CREATE FUNCTION refuse_change_of_plan() RETURNS trigger LANGUAGE plpgsql AS $$
       BEGIN
         IF to_jsonb(NEW) - 'given_up_at' IS DISTINCT FROM to_jsonb(OLD) - 'given_up_at' THEN
           RAISE EXCEPTION 'a stopping plan is set beforehand and never changes';
         END IF;
         RETURN NEW;
       END $$;
       CREATE TRIGGER plans_are_frozen BEFORE UPDATE ON stopping_plans FOR EACH ROW EXECUTE FUNCTION refuse_change_of_plan();
       CREATE TRIGGER tell_of_change AFTER INSERT OR UPDATE OR DELETE ON stopping_plans FOR EACH ROW EXECUTE FUNCTION tell_of_change();`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE stopping_plans; DROP FUNCTION refuse_change_of_plan();", { transaction });
  },
};
