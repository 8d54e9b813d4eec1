import { type EndpointReference, type EntrantInput, Prices, Settings } from "@tourney/core/contract";
import type { Transaction } from "sequelize";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const EntrantRow = z.object({
  id: z.uuid(),
  key: z.string(),
  name: z.string(),
  maker: z.string(),
  protocol: z.enum(["chat-completions", "by-hand"]),
  baseUrl: z.string().nullable(),
  keyVariable: z.string().nullable(),
  concurrency: z.int(),
  model: z.string(),
  settings: Settings,
  prices: Prices.nullable(),
  glyph: z.int(),
  sample: z.boolean(),
  generations: z.int(),
  createdAt: isoDate,
});
export type EntrantRow = z.infer<typeof EntrantRow>;

const SELECT = `
  SELECT n.id, n.key, n.name, n.maker, p.protocol, p.base_url AS "baseUrl", p.key_variable AS "keyVariable", p.concurrency,
    n.model, n.settings, n.prices, n.glyph, n.sample, n.created_at AS "createdAt",
    (SELECT count(*)::int FROM generations g WHERE g.entrant_id = n.id) AS generations
  FROM entrants n JOIN endpoints p ON p.id = n.endpoint_id`;

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
    const isReached = endpoint.protocol === "chat-completions";
    const [row] = await db.select(
      z.object({ id: z.uuid() }),
      `INSERT INTO endpoints (protocol, base_url, key_variable, concurrency) VALUES ($1, $2, $3, $4)
       ON CONFLICT (protocol, coalesce(base_url, ''), coalesce(key_variable, ''))
       DO UPDATE SET concurrency = excluded.concurrency RETURNING id`,
      [
        endpoint.protocol,
        isReached ? endpoint.baseUrl : null,
        isReached ? (endpoint.keyVariable ?? null) : null,
        isReached ? endpoint.concurrency : 1,
      ],
      transaction,
    );
    return row!.id;
  }

  return {
    find,
    list: () => db.select(EntrantRow, `${SELECT} ORDER BY n.created_at, n.key`),
    /** Tells all entrants of an endpoint that it is reached at another address now. */
    moveEndpoint: async (from: string, to: string): Promise<void> => {
      await db.execute("UPDATE endpoints SET base_url = $2 WHERE base_url = $1", [from, to]);
    },
    add: (input: EntrantInput, sample: boolean) =>
      db.transact(async (transaction) => {
        const endpointId = await saveEndpoint(input.endpoint, transaction);
        // The lowest glyph that is free, then round again from the start.
        await db.execute(
          `INSERT INTO entrants (key, name, maker, endpoint_id, model, settings, prices, sample, glyph)
           VALUES ($1, $2, $3, $4, $5, $6::jsonb, $7::jsonb, $8, coalesce(
             (SELECT min(slot) FROM generate_series(0, 15) slot WHERE slot NOT IN (SELECT glyph FROM entrants)),
             (SELECT count(*) % 16 FROM entrants)))`,
          [
            input.key,
            input.name,
            input.maker,
            endpointId,
            input.model,
            JSON.stringify(input.settings),
            jsonOrNull(input.prices),
            sample,
          ],
          transaction,
        );
        return (await find("key", input.key, transaction))!;
      }),
    replace: (id: string, input: EntrantInput) =>
      db.transact(async (transaction) => {
        const endpointId = await saveEndpoint(input.endpoint, transaction);
        await db.execute(
          `UPDATE entrants SET key = $2, name = $3, maker = $4, endpoint_id = $5, model = $6, settings = $7::jsonb, prices = $8::jsonb
           WHERE id = $1`,
          [
            id,
            input.key,
            input.name,
            input.maker,
            endpointId,
            input.model,
            JSON.stringify(input.settings),
            jsonOrNull(input.prices),
          ],
          transaction,
        );
        return (await find("id", id, transaction))!;
      }),
  };
}
export type EntrantRepository = ReturnType<typeof createEntrantRepository>;

const jsonOrNull = (value: unknown) => (value === undefined ? null : JSON.stringify(value));
