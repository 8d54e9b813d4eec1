import type { Migration } from "../migration.js";

/** What voters are given of an entry is prepared once and kept: none of them waits for it, and how long it takes tells nobody anything. */
export const keepStagePages: Migration = {
  name: "202611282200-keep-stage-pages",
  up: async ({ context, transaction }) => {
    await context.query("ALTER TABLE entries ADD COLUMN stage_page jsonb", { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query("ALTER TABLE entries DROP COLUMN stage_page", { transaction });
  },
};
