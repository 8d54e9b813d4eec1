import type { Migration } from "../migration.js";

/** Words of prompts and of score sheets are found by an index, too: to take the words of a hundred prompts apart took 15 of the 50 ms of a search. */
export const findWords: Migration = {
  name: "202611300600-find-words",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE INDEX prompts_by_words ON prompts USING gin (searchable(content::text));
       CREATE INDEX score_sheets_by_words ON score_sheets USING gin (searchable(note || ' ' || tags::text));`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP INDEX score_sheets_by_words, prompts_by_words", { transaction });
  },
};
