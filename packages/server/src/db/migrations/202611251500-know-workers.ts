import type { Migration } from "../migration.js";

/** The processes that work on the queue, as they say it themselves; what one that is gone had taken is freed. */
const UP = `
CREATE TABLE workers (
  id uuid PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('server', 'generate', 'render')),
  host text NOT NULL,
  place text NOT NULL,
  pid integer NOT NULL,
  capacity integer NOT NULL CHECK (capacity > 0),
  renderer_version text,
  queue_ids text[] NOT NULL DEFAULT '{}',
  started_at timestamptz NOT NULL DEFAULT now(),
  seen_at timestamptz NOT NULL DEFAULT now()
);
`;

export const knowWorkers: Migration = {
  name: "202611251500-know-workers",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE workers", { transaction });
  },
};
