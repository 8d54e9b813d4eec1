import { type Edition, type EditionSummary, Prompt, SuiteDefinition, type SuiteDraft } from "@tourney/core/contract";
import { partsOf } from "@tourney/core/suite";
import { Kept, UNCHANGING } from "../changes/kept.js";
import type { Database, Transaction } from "../db/connection.js";
import type { WordingModel } from "../db/models/wording-model.js";
import { SELECT_SUMMARIES, SummaryRow } from "./suite-queries.sql.js";
import { digestOf } from "./digests.js";

/** Suites, their editions, and the wordings that editions share. */
export class SuiteRepository {
  /** By edition. The database lets no prompt of a frozen edition change, so that they are read once. */
  private readonly prompts = new Kept<Prompt[]>(UNCHANGING);

  constructor(private readonly db: Database) {}

  listEditions(): Promise<EditionSummary[]> {
    return this.db.select(
      SummaryRow,
      `${SELECT_SUMMARIES} ORDER BY s.archived_at IS NOT NULL, e.frozen_at DESC, e.number DESC`,
    );
  }

  async findEdition(editionId: string, transaction?: Transaction): Promise<Edition | null> {
    const [summary] = await this.db.select(SummaryRow, `${SELECT_SUMMARIES} WHERE e.id = $1`, [editionId], transaction);
    if (summary === undefined) return null;
    const prompts = await this.prompts.get(editionId, () => this.listPrompts(editionId, transaction));
    return { ...summary, prompts };
  }

  private async listPrompts(editionId: string, transaction?: Transaction): Promise<Prompt[]> {
    const rows = await this.db.models.Prompt.findAll({
      where: { editionId },
      order: ["position"],
      ...(transaction ? { transaction } : {}),
    });
    return rows.map(({ id, content }) => Prompt.parse({ id, ...(content as object) }));
  }

  async findEditionOfPrompt(promptId: string): Promise<string | null> {
    return (await this.db.models.Prompt.findByPk(promptId, { attributes: ["editionId"] }))?.editionId ?? null;
  }

  /** The suite as it was frozen in an edition. */
  async findContent(editionId: string): Promise<SuiteDefinition | null> {
    const row = await this.db.models.Edition.findByPk(editionId);
    return row ? SuiteDefinition.parse(row.content) : null;
  }

  async setArchived(suiteKey: string, isArchived: boolean): Promise<boolean> {
    const archivedAt = isArchived ? new Date() : null;
    const [changed] = await this.db.models.Suite.update({ archivedAt }, { where: { key: suiteKey } });
    return changed === 1;
  }

  async findDraft(suiteKey: string): Promise<SuiteDraft | null> {
    const row = await this.db.models.SuiteDraft.findByPk(suiteKey);
    return row && { suiteKey, yaml: row.yaml, basedOn: row.basedOn, savedAt: row.savedAt.toISOString() };
  }

  async saveDraft(suiteKey: string, yaml: string): Promise<SuiteDraft> {
    const { Edition, Suite, SuiteDraft } = this.db.models;
    const known = await SuiteDraft.findByPk(suiteKey);
    if (known) await known.update({ yaml, savedAt: new Date() });
    else {
      const newest = await Edition.max<number | null, InstanceType<typeof Edition>>("number", {
        include: { model: Suite, as: "suite", attributes: [], where: { key: suiteKey } },
      } as object);
      await SuiteDraft.upsert({ suiteKey, yaml, basedOn: newest, savedAt: new Date() });
    }
    return (await this.findDraft(suiteKey))!;
  }

  async dropDraft(suiteKey: string): Promise<boolean> {
    return (await this.db.models.SuiteDraft.destroy({ where: { suiteKey } })) === 1;
  }

  /** The edition of a suite that has one of these digests, or null. */
  async findByDigest(suiteKey: string, digests: readonly string[]): Promise<Edition | null> {
    const row = await this.db.models.Edition.findOne({
      where: { digest: [...digests] },
      include: { model: this.db.models.Suite, as: "suite", where: { key: suiteKey }, attributes: [] },
    });
    return row ? this.findEdition(row.id) : null;
  }

  /** Freezes the suite as its next edition, or finds the edition that has one of these digests already. The first is the one that is stored. */
  freeze(suite: SuiteDefinition, digests: readonly [string, ...string[]]) {
    return this.db.transact(async (transaction) => {
      const { Edition, Suite } = this.db.models;
      const { key, title, sample } = suite;
      // The upsert's row lock makes two imports of one suite take turns, so that numbers have no gaps.
      const [owner] = await Suite.upsert(
        { key, title, sample },
        { conflictFields: ["key"], fields: ["key", "title", "sample"], returning: true, transaction },
      );
      const known = await Edition.findOne({ where: { suiteId: owner.id, digest: [...digests] }, transaction });
      const id = known?.id ?? (await this.insertEdition(owner.id, suite, digests[0], transaction));
      return { edition: (await this.findEdition(id, transaction))!, created: known === null };
    });
  }

  private async insertEdition(
    suiteId: string,
    suite: SuiteDefinition,
    digest: string,
    transaction: Transaction,
  ): Promise<string> {
    const { Edition, Prompt: PromptTable } = this.db.models;
    const last = await Edition.max<number | null, InstanceType<typeof Edition>>("number", {
      where: { suiteId },
      transaction,
    });
    const edition = await Edition.create({ suiteId, number: (last ?? 0) + 1, digest, content: suite }, { transaction });
    const wordings = await this.findOrAddWordings(suiteId, suite, transaction);
    await PromptTable.bulkCreate(
      suite.prompts.map((prompt, position) => {
        const { recipe, briefing } = partsOf(prompt);
        return {
          editionId: edition.id,
          key: prompt.key,
          position,
          kind: prompt.kind,
          content: prompt,
          wordingId: wordings[position]!,
          recipeDigest: digestOf(recipe),
          briefingDigest: digestOf(briefing),
        };
      }),
      { transaction },
    );
    return edition.id;
  }

  /** The wording of each prompt: the one that its key had before, or else one of the same content under a key that is gone, or a new one. */
  private async findOrAddWordings(
    suiteId: string,
    { prompts }: SuiteDefinition,
    transaction: Transaction,
  ): Promise<string[]> {
    const { Wording } = this.db.models;
    const parts = prompts.map((prompt) => ({ key: prompt.key, wording: partsOf(prompt).wording }));
    const wanted = parts.map(({ key, wording }) => ({ key, wording, digest: digestOf(wording) }));
    const known = await Wording.findAll({
      where: { suiteId, digest: wanted.map(({ digest }) => digest) },
      order: ["createdAt"],
      transaction,
    });
    const taken = new Set<WordingModel>();
    const own = wanted.map(({ key, digest }) => {
      const found = known.find((wording) => wording.key === key && wording.digest === digest);
      if (found) taken.add(found);
      return found;
    });
    const ids: string[] = [];
    for (const [index, { key, digest, wording }] of wanted.entries()) {
      const found = own[index] ?? known.find((other) => other.digest === digest && !taken.has(other));
      if (found) taken.add(found);
      const content: unknown = JSON.parse(wording);
      ids.push((found ?? (await Wording.create({ suiteId, key, digest, content }, { transaction }))).id);
    }
    return ids;
  }
}
