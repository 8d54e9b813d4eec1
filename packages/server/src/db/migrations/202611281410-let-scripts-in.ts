import type { Migration } from "../migration.js";

/** Scripts call the API by tokens of their own, which say what they may do and can be revoked. */
export const letScriptsIn: Migration = {
  name: "202611281410-let-scripts-in",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE api_tokens (
         id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
         name text NOT NULL,
         token_hash text NOT NULL UNIQUE,
         scopes jsonb NOT NULL,
         created_at timestamptz NOT NULL DEFAULT now(),
         last_used_at timestamptz,
         revoked_at timestamptz
       );`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE api_tokens;", { transaction });
  },
};
