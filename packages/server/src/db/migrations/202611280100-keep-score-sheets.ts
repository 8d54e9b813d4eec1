import type { Migration } from "../migration.js";

/** People's judgements of single entries, one for each judge and entry. */
export const keepScoreSheets: Migration = {
  name: "202611280100-keep-score-sheets",
  up: async ({ context, transaction }) => {
    await context.query(
      `CREATE TABLE score_sheets (
         id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
         entry_id uuid NOT NULL REFERENCES entries ON DELETE CASCADE,
         judge text NOT NULL CHECK (judge <> ''),
         is_blind boolean NOT NULL,
         watchpoints jsonb NOT NULL,
         verdict text CHECK (verdict IN ('pass', 'part', 'fail')),
         marks integer CHECK (marks BETWEEN 0 AND 10),
         note text NOT NULL DEFAULT '',
         tags jsonb NOT NULL,
         created_at timestamptz NOT NULL DEFAULT now(),
         updated_at timestamptz NOT NULL DEFAULT now(),
         UNIQUE (entry_id, judge)
       );`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query("DROP TABLE score_sheets;", { transaction });
  },
};
