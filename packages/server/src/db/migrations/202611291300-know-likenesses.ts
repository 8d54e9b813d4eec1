import type { Migration } from "../migration.js";

/**
 * What a panel asks of every recording stands beside it, too: what its frames look like, by which two that are the same to the pixel are known, and what
 * its page asks a machine for.
 */
export const knowLikenesses: Migration = {
  name: "202611291300-know-likenesses",
  up: async ({ context, transaction }) => {
    await context.query(
      `ALTER TABLE renders
         ADD COLUMN likeness text GENERATED ALWAYS AS (md5(nullif(jsonb_path_query_array(recording, '$.frames[*].sha256'), '[]')::text)) STORED,
         ADD COLUMN needs jsonb GENERATED ALWAYS AS (jsonb_path_query_array(recording, '$.findings[*] ? (@.rule == "needs_device").message')) STORED;`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("ALTER TABLE renders DROP COLUMN likeness, DROP COLUMN needs;", { transaction });
  },
};
