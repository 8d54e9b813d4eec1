import type { Migration } from "../migration.js";

const tell = (payload: string) => `
CREATE OR REPLACE FUNCTION tell_of_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('tourney_changes', ${payload});
  RETURN NULL;
END $$;`;

/** Changes are told by what they are about: a ballot changes nothing on the wall. Those of panels are told as well, since they say what voters are shown. */
export const tellBallotsApart: Migration = {
  name: "202611282310-tell-ballots-apart",
  up: async ({ context, transaction }) => {
    await context.query(
      `${tell("CASE WHEN TG_TABLE_NAME IN ('ballots', 'voters') THEN 'ballots' ELSE 'cells' END")}
       CREATE TRIGGER tell_of_change AFTER INSERT OR UPDATE OR DELETE ON panels FOR EACH ROW EXECUTE FUNCTION tell_of_change();`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(`DROP TRIGGER tell_of_change ON panels; ${tell("''")}`, { transaction });
  },
};
