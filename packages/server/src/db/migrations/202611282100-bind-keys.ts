import type { Migration } from "../migration.js";

/** A key goes to the host that it went to first, and to no other: an entrants file that names it with another address does not get it. */
export const bindKeys: Migration = {
  name: "202611282100-bind-keys",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE key_bindings (
         variable text PRIMARY KEY,
         host text NOT NULL,
         bound_at timestamptz NOT NULL DEFAULT now()
       )`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE key_bindings", { transaction });
  },
};
