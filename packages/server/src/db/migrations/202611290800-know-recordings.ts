import type { Migration } from "../migration.js";

/**
 * What the wall and the figures ask of every recording stands beside it: recordings are large, and unpacking thousands of them for a line of each
 * costs more than all else.
 */
export const knowRecordings: Migration = {
  name: "202611290800-know-recordings",
  up: async ({ context, transaction }) => {
    await context.query(
      `ALTER TABLE renders
         ADD COLUMN renderer_version text GENERATED ALWAYS AS (recording->>'rendererVersion') STORED,
         ADD COLUMN has_error boolean GENERATED ALWAYS AS (recording @? '$.findings[*] ? (@.severity == "error")') STORED,
         ADD COLUMN faults jsonb GENERATED ALWAYS AS (jsonb_path_query_array(recording, '$.findings[*] ? (@.severity != "note")')) STORED,
         ADD COLUMN motion jsonb GENERATED ALWAYS AS (recording #> '{metrics,motion}') STORED,
         ADD COLUMN middle_picture text GENERATED ALWAYS AS (
           recording->'frames'->(jsonb_array_length(recording->'frames') / 2)->>'thumbnail'
         ) STORED;`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(
      "ALTER TABLE renders DROP COLUMN renderer_version, DROP COLUMN has_error, DROP COLUMN faults, DROP COLUMN motion, DROP COLUMN middle_picture;",
      { transaction },
    );
  },
};
