import type { Migration } from "../migration.js";

/** With each ballot stands what the voter saw the pages with: window, pointer and frame rate. Older ballots have nothing of it. */
export const keepWhatWasSeenWith: Migration = {
  name: "202611281540-keep-what-was-seen-with",
  up: async ({ context, transaction }) => {
    await context.query("ALTER TABLE ballots ADD COLUMN seen_with jsonb;", { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query("ALTER TABLE ballots DROP COLUMN seen_with;", { transaction });
  },
};
