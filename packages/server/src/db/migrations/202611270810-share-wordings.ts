import { createHash } from "node:crypto";
import { PromptDefinition } from "@tourney/core/contract";
import { partsOf } from "@tourney/core/suite";
import { QueryTypes, type Sequelize, type Transaction } from "sequelize";
import * as z from "zod";
import type { Migration } from "../migration.js";

/**
 * What models are sent belongs to the suite, not to an edition: an edition that keeps a prompt's wording keeps its answers, entries and
 * ballots. Where two editions had asked the same, the later one's answers become further takes. The follow-ups of a prompt are `turns`,
 * what is sent after them are `rounds`, of which mends and corrections are counted apart.
 */
const BEFORE = `
CREATE TABLE wordings (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  suite_id uuid NOT NULL REFERENCES suites(id),
  -- The key of the prompt that it was first asked under. A prompt that is given another key keeps its wording.
  key text NOT NULL,
  digest text NOT NULL CHECK (digest ~ '^[0-9a-f]{64}$'),
  content jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (suite_id, key, digest)
);
CREATE INDEX wordings_by_digest ON wordings (suite_id, digest);
CREATE FUNCTION refuse_change_of_wording() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'A wording never changes' USING ERRCODE = 'check_violation';
END $$;
CREATE TRIGGER wordings_are_frozen BEFORE UPDATE OR DELETE ON wordings FOR EACH ROW EXECUTE FUNCTION refuse_change_of_wording();
ALTER TABLE prompts
  ADD COLUMN wording_id uuid REFERENCES wordings(id),
  ADD COLUMN recipe_digest text,
  ADD COLUMN briefing_digest text;
ALTER TABLE prompts DISABLE TRIGGER prompts_are_frozen;
`;

const AFTER = `
ALTER TABLE prompts ENABLE TRIGGER prompts_are_frozen;
ALTER TABLE prompts
  ALTER COLUMN wording_id SET NOT NULL, ALTER COLUMN recipe_digest SET NOT NULL, ALTER COLUMN briefing_digest SET NOT NULL,
  ADD UNIQUE (edition_id, wording_id);
CREATE INDEX prompts_by_wording ON prompts (wording_id);

ALTER TABLE renders ADD COLUMN recipe_digest text;
UPDATE renders r SET recipe_digest = q.recipe_digest
  FROM entries e JOIN generations g ON g.id = e.generation_id JOIN prompts q ON q.id = g.prompt_id WHERE e.id = r.entry_id;
ALTER TABLE renders ALTER COLUMN recipe_digest SET NOT NULL;

ALTER TABLE bouts ADD COLUMN wording_id uuid, ADD COLUMN left_version_id uuid, ADD COLUMN right_version_id uuid;
UPDATE bouts o SET wording_id = q.wording_id, left_version_id = gl.version_id, right_version_id = gr.version_id
  FROM prompts q, entries el JOIN generations gl ON gl.id = el.generation_id, entries er JOIN generations gr ON gr.id = er.generation_id
  WHERE q.id = o.prompt_id AND el.id = o.left_entry_id AND er.id = o.right_entry_id;
ALTER TABLE bouts ALTER COLUMN wording_id SET NOT NULL, ALTER COLUMN left_version_id SET NOT NULL, ALTER COLUMN right_version_id SET NOT NULL;

ALTER TABLE entries RENAME COLUMN mend_round TO round;
ALTER TABLE generations DROP COLUMN idempotency_key, DROP CONSTRAINT generations_one_a_place;
ALTER TABLE generations RENAME COLUMN stage TO turn;
ALTER TABLE generations RENAME COLUMN mend_round TO round;
ALTER TABLE generations
  ADD COLUMN wording_id uuid REFERENCES wordings(id),
  ADD COLUMN mends integer NOT NULL DEFAULT 0 CHECK (mends >= 0),
  ADD COLUMN corrections integer NOT NULL DEFAULT 0 CHECK (corrections >= 0);
UPDATE generations g SET wording_id = q.wording_id FROM prompts q WHERE q.id = g.prompt_id;
UPDATE generations g SET mends = c.mends, corrections = c.corrections FROM (
  SELECT id, count(*) FILTER (WHERE follow_up->>'kind' = 'mend') OVER earlier AS mends,
    count(*) FILTER (WHERE follow_up->>'kind' = 'correction') OVER earlier AS corrections
  FROM generations WINDOW earlier AS (PARTITION BY prompt_id, entrant_id, take, turn ORDER BY round)) c
  WHERE c.id = g.id AND g.round > 0;
WITH spans AS (
    SELECT g.wording_id, g.version_id, g.prompt_id, d.number, max(g.take) AS takes
    FROM generations g JOIN prompts q ON q.id = g.prompt_id JOIN editions d ON d.id = q.edition_id GROUP BY 1, 2, 3, 4),
  shifts AS (
    SELECT wording_id, version_id, prompt_id, coalesce(sum(takes) OVER (PARTITION BY wording_id, version_id ORDER BY number
      ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING), 0)::int AS shift FROM spans)
  UPDATE generations g SET take = g.take + s.shift FROM shifts s
  WHERE s.shift > 0 AND s.wording_id = g.wording_id AND s.version_id = g.version_id AND s.prompt_id = g.prompt_id;
ALTER TABLE generations ALTER COLUMN wording_id SET NOT NULL, DROP COLUMN prompt_id,
  ADD CHECK (mends + corrections = round);
CREATE UNIQUE INDEX generations_one_a_place ON generations (wording_id, version_id, take, turn, round);

-- The prompt that a wording stands for where no edition is asked for: that of the newest edition which has it.
CREATE VIEW newest_prompts AS
  SELECT DISTINCT ON (q.wording_id) q.* FROM prompts q JOIN editions d ON d.id = q.edition_id ORDER BY q.wording_id, d.number DESC;
`;

const DOWN = `
DROP VIEW newest_prompts;
ALTER TABLE generations ADD COLUMN prompt_id uuid REFERENCES prompts(id);
UPDATE generations g SET prompt_id = coalesce(
  (SELECT q.id FROM runs r JOIN prompts q ON q.edition_id = r.edition_id AND q.wording_id = g.wording_id WHERE r.id = g.run_id),
  (SELECT q.id FROM prompts q JOIN editions d ON d.id = q.edition_id WHERE q.wording_id = g.wording_id ORDER BY d.number LIMIT 1));
DROP INDEX generations_one_a_place;
ALTER TABLE generations ALTER COLUMN prompt_id SET NOT NULL, DROP COLUMN wording_id, DROP COLUMN mends, DROP COLUMN corrections;
ALTER TABLE generations RENAME COLUMN turn TO stage;
ALTER TABLE generations RENAME COLUMN round TO mend_round;
ALTER TABLE generations ADD CONSTRAINT generations_one_a_place UNIQUE (prompt_id, entrant_id, take, stage, mend_round);
ALTER TABLE generations ADD COLUMN idempotency_key text NOT NULL GENERATED ALWAYS AS
  (prompt_id::text || '/' || entrant_id::text || '/' || take || '/' || stage || '/' || mend_round) STORED;
ALTER TABLE entries RENAME COLUMN round TO mend_round;
ALTER TABLE bouts DROP COLUMN wording_id, DROP COLUMN left_version_id, DROP COLUMN right_version_id;
ALTER TABLE renders DROP COLUMN recipe_digest;
ALTER TABLE prompts DISABLE TRIGGER prompts_are_frozen;
UPDATE prompts SET content = (content - 'turns') || jsonb_build_object('stages', coalesce(content->'turns', '[]'));
ALTER TABLE prompts ENABLE TRIGGER prompts_are_frozen;
ALTER TABLE prompts DROP COLUMN wording_id, DROP COLUMN recipe_digest, DROP COLUMN briefing_digest;
DROP TABLE wordings;
DROP FUNCTION refuse_change_of_wording;
`;

/** A stored prompt. What was frozen is not checked again: checks that came later must not keep data from being migrated. */
const StoredPrompt = z.object(PromptDefinition.shape);
const Row = z.object({
  id: z.string(),
  suiteId: z.string(),
  key: z.string(),
  content: z.record(z.string(), z.unknown()),
});

const digestOf = (text: string) => createHash("sha256").update(text).digest("hex");

async function partPrompts(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const rows = await sequelize.query(
    `SELECT q.id, d.suite_id AS "suiteId", q.key, q.content FROM prompts q JOIN editions d ON d.id = q.edition_id ORDER BY d.number, q.position`,
    { type: QueryTypes.SELECT, transaction },
  );
  for (const { id, suiteId, key, content } of rows.map((row) => Row.parse(row))) {
    const { stages, ...rest } = content;
    const prompt = StoredPrompt.parse({ ...rest, ...(stages === undefined ? {} : { turns: stages }) });
    const { wording, recipe, briefing } = partsOf(prompt);
    await sequelize.query(
      "INSERT INTO wordings (suite_id, key, digest, content) VALUES ($1, $2, $3, $4::jsonb) ON CONFLICT DO NOTHING",
      { bind: [suiteId, key, digestOf(wording), wording], transaction },
    );
    await sequelize.query(
      `UPDATE prompts SET content = $2::jsonb, recipe_digest = $3, briefing_digest = $4,
         wording_id = (SELECT id FROM wordings WHERE suite_id = $5 AND key = $6 AND digest = $7) WHERE id = $1`,
      {
        bind: [id, JSON.stringify(prompt), digestOf(recipe), digestOf(briefing), suiteId, key, digestOf(wording)],
        transaction,
      },
    );
  }
}

export const shareWordings: Migration = {
  name: "202611270810-share-wordings",
  up: async ({ context, transaction }) => {
    await context.query(BEFORE, { transaction });
    await partPrompts(context, transaction);
    await context.query(AFTER, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
