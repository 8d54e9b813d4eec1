import {
  type EndpointReference,
  EntrantInput,
  type EntrantSetUp,
  type EntrantVersions,
  Prices,
  Protocol,
  Settings,
} from "@tourney/core/contract";
import { describeSetUp } from "@tourney/core/generation";
import { fn, literal } from "sequelize";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDate, isoDateOrNull } from "../db/row.js";
import { CANCEL_LEFT } from "../generations/generation-states.sql.js";
import { MOVE_WAITING, SELECT_ENTRANTS } from "./entrant-queries.sql.js";

const EndpointColumns = z.object({
  protocol: Protocol,
  baseUrl: z.string().nullable(),
  keyVariable: z.string().nullable(),
  concurrency: z.int(),
  requestsPerMinute: z.int().nullable(),
  tokensPerMinute: z.int().nullable(),
});

const EntrantRow = z.object({
  id: z.uuid(),
  key: z.string(),
  name: z.string(),
  maker: z.string(),
  aliases: z.array(z.string()),
  predecessor: z.object({ key: z.string() }).nullish(),
  endpoint: EndpointColumns,
  model: z.string(),
  settings: Settings,
  prices: Prices.nullable(),
  versionId: z.uuid(),
  version: z.object({ number: z.int() }),
  versions: z.int(),
  glyph: z.int(),
  sample: z.boolean(),
  generations: z.int(),
  retiredAt: isoDateOrNull,
  createdAt: isoDate,
});
export type EntrantRow = z.infer<typeof EntrantRow>;

const VersionRow = z.object({
  id: z.uuid(),
  number: z.int(),
  endpoint: EndpointColumns,
  model: z.string(),
  settings: Settings,
  generations: z.int(),
  createdAt: isoDate,
});

const GENERATIONS_OF_VERSION = literal(
  '(SELECT count(*)::int FROM generations g WHERE g.version_id = "entrant_versions"."id")',
);

/** A row of `endpoints` as a file writes it. */
function toReference(row: z.infer<typeof EndpointColumns>): EndpointReference {
  if (row.protocol === "by-hand") return { protocol: row.protocol };
  return {
    protocol: row.protocol,
    baseUrl: row.baseUrl!,
    concurrency: row.concurrency,
    ...(row.keyVariable === null ? {} : { keyVariable: row.keyVariable }),
    ...(row.requestsPerMinute === null ? {} : { requestsPerMinute: row.requestsPerMinute }),
    ...(row.tokensPerMinute === null ? {} : { tokensPerMinute: row.tokensPerMinute }),
  };
}

/** An entrant as it was entered. */
export function toEntrantInput(row: EntrantRow): EntrantInput {
  const { key, name, maker, aliases, model, settings, predecessor } = row;
  return {
    ...{ key, name, maker, aliases, model, settings },
    endpoint: toReference(row.endpoint),
    ...(predecessor ? { predecessor: predecessor.key } : {}),
    ...(row.prices === null ? {} : { prices: row.prices }),
  };
}

const GLYPHS = 16;

/** Entrants, the endpoints they share, and the versions that their set-ups make. */
export class EntrantRepository {
  constructor(private readonly db: Database) {}

  async find(column: "id" | "key" | "name", value: string, transaction?: Transaction): Promise<EntrantRow | null> {
    const [row] = await this.db.select(
      EntrantRow,
      `${SELECT_ENTRANTS} WHERE n.${column} = $1 ORDER BY n.created_at, n.key LIMIT 1`,
      [value],
      transaction,
    );
    return row ?? null;
  }

  list(): Promise<EntrantRow[]> {
    return this.db.select(EntrantRow, `${SELECT_ENTRANTS} ORDER BY n.created_at, n.key`);
  }

  async listVersions(entrantId: string, presentId: string, transaction?: Transaction): Promise<EntrantVersions> {
    const { Endpoint, EntrantVersion } = this.db.models;
    const rows = await EntrantVersion.findAll({
      where: { entrantId },
      attributes: { include: [[GENERATIONS_OF_VERSION, "generations"]] },
      include: { model: Endpoint, as: "endpoint" },
      order: ["number"],
      ...(transaction ? { transaction } : {}),
    });
    return rows.map((row) => {
      const { id, number, endpoint, model, settings, generations, createdAt } = VersionRow.parse(
        row.get({ plain: true }),
      );
      const content = { endpoint: toReference(endpoint), model, settings };
      return { id, number, content, generations, isPresent: id === presentId, createdAt };
    });
  }

  /** Tells all entrants of an endpoint that it is reached at another address now. */
  async moveEndpoint(from: string, to: string): Promise<void> {
    await this.db.models.Endpoint.update({ baseUrl: to }, { where: { baseUrl: from } });
  }

  async add(input: EntrantInput, sample: boolean, transaction: Transaction): Promise<EntrantRow> {
    const { Entrant, EntrantVersion } = this.db.models;
    const endpointId = await this.saveEndpoint(input.endpoint, transaction);
    const version = EntrantVersion.build({ entrantId: "", number: 1, endpointId, ...pickSetUp(input) });
    const entrant = await Entrant.create(
      {
        ...(await this.toColumns(input, endpointId, transaction)),
        sample,
        glyph: await this.chooseGlyph(transaction),
        versionId: version.id,
        // Entrants of one file are added in one transaction, and stand in the file's order all the same.
        createdAt: fn("clock_timestamp") as unknown as Date,
      },
      { transaction },
    );
    await version.set({ entrantId: entrant.id }).save({ transaction });
    return (await this.find("id", entrant.id, transaction))!;
  }

  /**
   * Changes an entrant. Another set-up makes the next version, unless the present one has answered nothing yet; a set-up that it had before
   * brings that version back.
   */
  async replace(row: EntrantRow, input: EntrantInput, transaction: Transaction): Promise<EntrantRow> {
    const { Entrant } = this.db.models;
    const endpointId = await this.saveEndpoint(input.endpoint, transaction);
    const versionId = await this.chooseVersion(row, { ...input, endpointId }, transaction);
    await Entrant.update(
      { ...(await this.toColumns(input, endpointId, transaction)), versionId },
      { where: { id: row.id }, transaction },
    );
    if (versionId !== row.versionId) {
      await this.db.execute(MOVE_WAITING, [row.id, versionId, input.model, endpointId, row.versionId], transaction);
      await this.db.execute(CANCEL_LEFT, [row.id, row.versionId], transaction);
    }
    return (await this.find("id", row.id, transaction))!;
  }

  private async chooseVersion(
    row: EntrantRow,
    input: EntrantSetUp & { endpointId: string },
    transaction: Transaction,
  ): Promise<string> {
    const { EntrantVersion } = this.db.models;
    const { endpointId } = input;
    const versions = await this.listVersions(row.id, row.versionId, transaction);
    const wanted = describeSetUp(input);
    const known = versions.find(({ content }) => describeSetUp(content) === wanted);
    const present = versions.find(({ isPresent }) => isPresent)!;
    const reused = known ?? (present.generations === 0 ? present : undefined);
    if (reused === undefined) {
      const number = Math.max(...versions.map((version) => version.number)) + 1;
      const added = { entrantId: row.id, number, endpointId, ...pickSetUp(input) };
      return (await EntrantVersion.create(added, { transaction })).id;
    }
    await EntrantVersion.update({ endpointId, ...pickSetUp(input) }, { where: { id: reused.id }, transaction });
    return reused.id;
  }

  async setRetired(id: string, isRetired: boolean): Promise<void> {
    await this.db.models.Entrant.update({ retiredAt: isRetired ? new Date() : null }, { where: { id } });
  }

  /** Removes an entrant that has no generation. */
  remove(id: string): Promise<void> {
    const { Entrant, EntrantVersion } = this.db.models;
    return this.db.transact(async (transaction) => {
      await Entrant.update({ predecessorId: null }, { where: { predecessorId: id }, transaction });
      // Each names the other: the database checks that at the end of the transaction.
      await EntrantVersion.destroy({ where: { entrantId: id }, transaction });
      await Entrant.destroy({ where: { id }, transaction });
    });
  }

  private async toColumns(input: EntrantInput, endpointId: string, transaction: Transaction) {
    const { key, name, maker, aliases, predecessor, prices } = input;
    const before =
      predecessor === undefined
        ? null
        : await this.db.models.Entrant.findOne({ where: { key: predecessor }, transaction });
    return {
      ...{ key, name, maker, aliases, endpointId },
      ...pickSetUp(input),
      prices: prices ?? null,
      predecessorId: before?.id ?? null,
    };
  }

  /** The lowest glyph that is free, then round again from the start. */
  private async chooseGlyph(transaction: Transaction): Promise<number> {
    const taken = await this.db.models.Entrant.findAll({ attributes: ["glyph"], transaction });
    const used = new Set(taken.map(({ glyph }) => glyph));
    const free = Array.from({ length: GLYPHS }, (_, slot) => slot).find((slot) => !used.has(slot));
    return free ?? taken.length % GLYPHS;
  }

  /** Endpoints are shared: the limits last written hold for all their entrants. */
  private async saveEndpoint(endpoint: EndpointReference, transaction: Transaction): Promise<string> {
    const { Endpoint } = this.db.models;
    const reached = endpoint.protocol === "by-hand" ? null : endpoint;
    const place = {
      protocol: endpoint.protocol,
      baseUrl: reached?.baseUrl ?? null,
      keyVariable: reached?.keyVariable ?? null,
    };
    const limits = {
      concurrency: reached?.concurrency ?? 1,
      requestsPerMinute: reached?.requestsPerMinute ?? null,
      tokensPerMinute: reached?.tokensPerMinute ?? null,
    };
    const known = await Endpoint.findOne({ where: place, transaction, lock: true });
    return (await (known?.update(limits, { transaction }) ?? Endpoint.create({ ...place, ...limits }, { transaction })))
      .id;
  }
}

const pickSetUp = ({ model, settings }: Pick<EntrantSetUp, "model" | "settings">) => ({ model, settings });
