import type { Migration } from "../migration.js";

/** An entrant is shown with how it is reached: a change of that is told as well. */
export const tellOfEndpoints: Migration = {
  name: "202611300610-tell-of-endpoints",
  up: async ({ context, transaction }) => {
    await context.query(
      "CREATE TRIGGER tell_of_change AFTER INSERT OR UPDATE OR DELETE ON endpoints FOR EACH ROW EXECUTE FUNCTION tell_of_change()",
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TRIGGER tell_of_change ON endpoints", { transaction });
  },
};
