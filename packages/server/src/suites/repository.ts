import { Edition, EditionSummary, Prompt, PromptDefinition, SuiteDefinition, SuiteDraft } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const SummaryRow = z.object({ ...EditionSummary.shape, frozenAt: isoDate });
const PromptRow = z.object({ id: z.uuid(), content: PromptDefinition });

const DraftRow = z.object({ ...SuiteDraft.shape, savedAt: isoDate });
const DRAFT = `SELECT d.suite_key AS "suiteKey", d.yaml, d.saved_at AS "savedAt", d.based_on AS "basedOn" FROM suite_drafts d`;

const SUMMARY = `
  SELECT e.id, s.key AS "suiteKey", s.title AS "suiteTitle", e.number, e.digest, s.sample, e.frozen_at AS "frozenAt",
    s.archived_at IS NOT NULL AS archived,
    (SELECT count(*)::int FROM prompts p WHERE p.edition_id = e.id) AS "promptCount",
    (SELECT count(*)::int FROM generations g JOIN prompts p ON p.id = g.prompt_id WHERE p.edition_id = e.id) AS generations
  FROM editions e JOIN suites s ON s.id = e.suite_id`;

export function createSuiteRepository(db: Database) {
  const listPrompts = async (editionId: string, transaction?: Transaction): Promise<Prompt[]> => {
    const rows = await db.select(
      PromptRow,
      "SELECT id, content FROM prompts WHERE edition_id = $1 ORDER BY position",
      [editionId],
      transaction,
    );
    return rows.map(({ id, content }) => Prompt.parse({ id, ...content }));
  };
  const findEdition = async (editionId: string, transaction?: Transaction): Promise<Edition | null> => {
    const [summary] = await db.select(SummaryRow, `${SUMMARY} WHERE e.id = $1`, [editionId], transaction);
    return summary ? { ...summary, prompts: await listPrompts(editionId, transaction) } : null;
  };
  return {
    listPrompts,
    findEdition,
    listEditions: () =>
      db.select(SummaryRow, `${SUMMARY} ORDER BY s.archived_at IS NOT NULL, e.frozen_at DESC, e.number DESC`),
    /** The suite as it was frozen in an edition. */
    async findContent(editionId: string): Promise<SuiteDefinition | null> {
      const [row] = await db.select(
        z.object({ content: SuiteDefinition }),
        "SELECT content FROM editions WHERE id = $1",
        [editionId],
      );
      return row?.content ?? null;
    },
    async setArchived(suiteKey: string, isArchived: boolean): Promise<boolean> {
      const changed = await db.execute("UPDATE suites SET archived_at = CASE WHEN $2 THEN now() END WHERE key = $1", [
        suiteKey,
        isArchived,
      ]);
      return changed === 1;
    },
    async findDraft(suiteKey: string): Promise<SuiteDraft | null> {
      const [row] = await db.select(DraftRow, `${DRAFT} WHERE d.suite_key = $1`, [suiteKey]);
      return row ?? null;
    },
    async saveDraft(suiteKey: string, yaml: string): Promise<SuiteDraft> {
      await db.execute(
        `INSERT INTO suite_drafts (suite_key, yaml, based_on)
         VALUES ($1, $2, (SELECT max(e.number) FROM editions e JOIN suites s ON s.id = e.suite_id WHERE s.key = $1))
         ON CONFLICT (suite_key) DO UPDATE SET yaml = excluded.yaml, saved_at = now()`,
        [suiteKey, yaml.replaceAll("\0", "\ufffd")],
      );
      return (await this.findDraft(suiteKey))!;
    },
    dropDraft: async (suiteKey: string): Promise<boolean> =>
      (await db.execute("DELETE FROM suite_drafts WHERE suite_key = $1", [suiteKey])) === 1,
    /** Freezes the suite as its next edition, or finds the edition that has this digest already. */
    freeze: (suite: SuiteDefinition, digest: string) =>
      db.transact(async (transaction) => {
        const id = z.object({ id: z.uuid() });
        // The upsert's row lock makes two imports of one suite take turns, so that numbers have no gaps.
        const [owner] = await db.select(
          id,
          `INSERT INTO suites (key, title, sample) VALUES ($1, $2, $3)
           ON CONFLICT (key) DO UPDATE SET title = excluded.title, sample = excluded.sample RETURNING id`,
          [suite.key, suite.title, suite.sample],
          transaction,
        );
        const [known] = await db.select(
          id,
          "SELECT id FROM editions WHERE suite_id = $1 AND digest = $2",
          [owner!.id, digest],
          transaction,
        );
        const edition = known ?? (await insertEdition(owner!.id, suite, digest, transaction));
        return { edition: (await findEdition(edition.id, transaction))!, created: known === undefined };
      }),
  };

  async function insertEdition(
    suiteId: string,
    suite: SuiteDefinition,
    digest: string,
    transaction: Transaction,
  ): Promise<{ id: string }> {
    const [edition] = await db.select(
      z.object({ id: z.uuid() }),
      `INSERT INTO editions (suite_id, number, digest, content)
       SELECT $1, coalesce(max(number), 0) + 1, $2, $3::jsonb FROM editions WHERE suite_id = $1 RETURNING id`,
      [suiteId, digest, JSON.stringify(suite)],
      transaction,
    );
    for (const [position, prompt] of suite.prompts.entries()) {
      await db.execute(
        "INSERT INTO prompts (edition_id, key, position, kind, content) VALUES ($1, $2, $3, $4, $5::jsonb)",
        [edition!.id, prompt.key, position, prompt.kind, JSON.stringify(prompt)],
        transaction,
      );
    }
    return edition!;
  }
}
export type SuiteRepository = ReturnType<typeof createSuiteRepository>;
