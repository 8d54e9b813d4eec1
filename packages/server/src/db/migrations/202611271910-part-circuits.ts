import type { Migration } from "../migration.js";

/** Failures are counted by endpoint and model: one model that fails does not keep the others behind its endpoint waiting. */
export const partCircuits: Migration = {
  name: "202611271910-part-circuits",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE circuits (
         endpoint_id uuid NOT NULL REFERENCES endpoints(id) ON DELETE CASCADE,
         model text NOT NULL,
         -- Requests that were under way together count as one failure.
         failures integer NOT NULL DEFAULT 1 CHECK (failures >= 1),
         counted_at timestamptz NOT NULL DEFAULT now(),
         open_until timestamptz,
         reason text NOT NULL,
         PRIMARY KEY (endpoint_id, model)
       );
       ALTER TABLE endpoints DROP COLUMN failures_in_row, DROP COLUMN open_until, DROP COLUMN open_reason;`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(
      `DROP TABLE circuits;
       ALTER TABLE endpoints ADD COLUMN failures_in_row integer NOT NULL DEFAULT 0, ADD COLUMN open_until timestamptz,
         ADD COLUMN open_reason text;`,
      { transaction },
    );
  },
};
