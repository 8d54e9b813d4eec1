import type { Migration } from "../migration.js";

/** Bouts on a wording, and recordings that wait or ended lately, are found without going through all. */
export const findRecordings: Migration = {
  name: "202611290530-find-recordings",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE INDEX bouts_by_wording ON bouts (wording_id);
       CREATE INDEX renders_waiting ON renders (entry_id) WHERE state = 'queued';
       CREATE INDEX renders_lately ON renders (finished_at);`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP INDEX bouts_by_wording, renders_waiting, renders_lately", { transaction });
  },
};
