import { type EndpointReference, type EntrantInput, EntrantSnapshot, Prices, Settings } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate, isoDateOrNull } from "../db/row.js";

const EntrantRow = z.object({
  id: z.uuid(),
  key: z.string(),
  name: z.string(),
  maker: z.string(),
  aliases: z.array(z.string()),
  predecessorKey: z.string().nullable(),
  protocol: z.enum(["chat-completions", "messages", "by-hand"]),
  baseUrl: z.string().nullable(),
  keyVariable: z.string().nullable(),
  concurrency: z.int(),
  requestsPerMinute: z.int().nullable(),
  tokensPerMinute: z.int().nullable(),
  model: z.string(),
  settings: Settings,
  prices: Prices.nullable(),
  version: z.int(),
  glyph: z.int(),
  sample: z.boolean(),
  generations: z.int(),
  retiredAt: isoDateOrNull,
  createdAt: isoDate,
});
export type EntrantRow = z.infer<typeof EntrantRow>;

const SELECT = `
  SELECT n.id, n.key, n.name, n.maker, n.aliases, o.key AS "predecessorKey", p.protocol, p.base_url AS "baseUrl",
    p.key_variable AS "keyVariable", p.concurrency, p.requests_per_minute AS "requestsPerMinute",
    p.tokens_per_minute AS "tokensPerMinute", n.model, n.settings, n.prices, n.version, n.glyph, n.sample,
    n.retired_at AS "retiredAt", n.created_at AS "createdAt",
    (SELECT count(*)::int FROM generations g WHERE g.entrant_id = n.id) AS generations
  FROM entrants n JOIN endpoints p ON p.id = n.endpoint_id LEFT JOIN entrants o ON o.id = n.predecessor_id`;

const VersionRow = z.object({ number: z.int(), content: EntrantSnapshot, createdAt: isoDate });

/** The part of an entrant that its answers depend on. */
export const toSnapshot = ({ endpoint, model, settings, prices }: EntrantInput): EntrantSnapshot => ({
  endpoint,
  model,
  settings,
  prices: prices ?? null,
});

export function createEntrantRepository(db: Database) {
  const find = async (
    column: "id" | "key" | "name",
    value: string,
    transaction?: Transaction,
  ): Promise<EntrantRow | null> => {
    const [row] = await db.select(EntrantRow, `${SELECT} WHERE n.${column} = $1`, [value], transaction);
    return row ?? null;
  };

  async function saveEndpoint(endpoint: EndpointReference, transaction: Transaction): Promise<string> {
    const reached = endpoint.protocol === "by-hand" ? null : endpoint;
    const [row] = await db.select(
      z.object({ id: z.uuid() }),
      `INSERT INTO endpoints (protocol, base_url, key_variable, concurrency, requests_per_minute, tokens_per_minute)
       VALUES ($1, $2, $3, $4, $5, $6)
       ON CONFLICT (protocol, coalesce(base_url, ''), coalesce(key_variable, ''))
       DO UPDATE SET concurrency = excluded.concurrency, requests_per_minute = excluded.requests_per_minute,
         tokens_per_minute = excluded.tokens_per_minute RETURNING id`,
      [
        endpoint.protocol,
        reached?.baseUrl ?? null,
        reached?.keyVariable ?? null,
        reached?.concurrency ?? 1,
        reached?.requestsPerMinute ?? null,
        reached?.tokensPerMinute ?? null,
      ],
      transaction,
    );
    return row!.id;
  }

  /** The columns that an entrant's own input fills, in the order of the parameters $2 …. */
  const listValues = (input: EntrantInput, endpointId: string) => [
    input.key,
    input.name,
    input.maker,
    JSON.stringify(input.aliases),
    input.predecessor ?? null,
    endpointId,
    input.model,
    JSON.stringify(input.settings),
    input.prices === undefined ? null : JSON.stringify(input.prices),
  ];

  async function addVersion(id: string, number: number, input: EntrantInput, transaction: Transaction): Promise<void> {
    await db.execute("DELETE FROM entrant_versions WHERE entrant_id = $1 AND number = $2", [id, number], transaction);
    await db.execute(
      "INSERT INTO entrant_versions (entrant_id, number, content) VALUES ($1, $2, $3::jsonb)",
      [id, number, JSON.stringify(toSnapshot(input))],
      transaction,
    );
  }

  return {
    find,
    list: () => db.select(EntrantRow, `${SELECT} ORDER BY n.created_at, n.key`),
    listVersions: (id: string) =>
      db.select(
        VersionRow,
        `SELECT number, content, created_at AS "createdAt" FROM entrant_versions WHERE entrant_id = $1 ORDER BY number`,
        [id],
      ),
    /** Tells all entrants of an endpoint that it is reached at another address now. */
    moveEndpoint: async (from: string, to: string): Promise<void> => {
      await db.execute("UPDATE endpoints SET base_url = $2 WHERE base_url = $1", [from, to]);
    },
    async add(input: EntrantInput, sample: boolean, transaction: Transaction): Promise<EntrantRow> {
      const endpointId = await saveEndpoint(input.endpoint, transaction);
      // The lowest glyph that is free, then round again from the start. The first parameter says whether it is sample data.
      await db.execute(
        `INSERT INTO entrants (created_at, sample, key, name, maker, aliases, predecessor_id, endpoint_id, model, settings, prices, glyph)
         VALUES (clock_timestamp(), $1, $2, $3, $4, $5::jsonb, (SELECT id FROM entrants WHERE key = $6), $7, $8, $9::jsonb, $10::jsonb, coalesce(
           (SELECT min(slot) FROM generate_series(0, 15) slot WHERE slot NOT IN (SELECT glyph FROM entrants)),
           (SELECT count(*) % 16 FROM entrants)))`,
        [sample, ...listValues(input, endpointId)],
        transaction,
      );
      const row = (await find("key", input.key, transaction))!;
      await addVersion(row.id, 1, input, transaction);
      return row;
    },
    /** Changes an entrant; `version` is its present number, or the next one when its answers depend on the change. */
    async replace(id: string, input: EntrantInput, version: number, transaction: Transaction): Promise<EntrantRow> {
      const endpointId = await saveEndpoint(input.endpoint, transaction);
      await db.execute(
        `UPDATE entrants SET key = $2, name = $3, maker = $4, aliases = $5::jsonb,
           predecessor_id = (SELECT id FROM entrants WHERE key = $6), endpoint_id = $7, model = $8, settings = $9::jsonb,
           prices = $10::jsonb, version = $11 WHERE id = $1`,
        [id, ...listValues(input, endpointId), version],
        transaction,
      );
      await addVersion(id, version, input, transaction);
      // What waits is sent with the new settings, to the new endpoint.
      await db.execute(
        `UPDATE generations SET endpoint_id = $2, entrant_version = $3, requested_model = $4
         WHERE entrant_id = $1 AND state IN ('waiting', 'queued', 'held')`,
        [id, endpointId, version, input.model],
        transaction,
      );
      return (await find("id", id, transaction))!;
    },
    async setRetired(id: string, isRetired: boolean): Promise<void> {
      await db.execute("UPDATE entrants SET retired_at = CASE WHEN $2 THEN now() END WHERE id = $1", [id, isRetired]);
    },
    /** Removes an entrant that has no generation. */
    remove: (id: string) =>
      db.transact(async (transaction) => {
        await db.execute("DELETE FROM entrant_versions WHERE entrant_id = $1", [id], transaction);
        await db.execute("UPDATE entrants SET predecessor_id = NULL WHERE predecessor_id = $1", [id], transaction);
        await db.execute("DELETE FROM entrants WHERE id = $1", [id], transaction);
      }),
  };
}
export type EntrantRepository = ReturnType<typeof createEntrantRepository>;
