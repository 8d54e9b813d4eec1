import type { Model, ModelStatic } from "sequelize";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import * as z from "zod";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import { toStorable } from "./storable.js";

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const Column = z.object({
  table: z.string(),
  column: z.string(),
  type: z.string(),
  isNullable: z.boolean(),
  isGenerated: z.boolean(),
});

/** The PostgreSQL type that a model's column stands for. */
const TYPES: Record<string, string> = {
  UUID: "uuid",
  TEXT: "text",
  INTEGER: "integer",
  BIGINT: "bigint",
  BOOLEAN: "boolean",
  DATE: "timestamp with time zone",
  JSONB: "jsonb",
  JSON: "json",
  DOUBLE: "double precision",
  "DOUBLE PRECISION": "double precision",
  ARRAY: "ARRAY",
  BLOB: "bytea",
};

describe("the models", () => {
  it("are those of the tables, column by column", async () => {
    const columns = await server.db.select(
      Column,
      `SELECT table_name AS table, column_name AS column, data_type AS type, is_nullable = 'YES' AS "isNullable",
         is_generated = 'ALWAYS' AS "isGenerated"
       FROM information_schema.columns JOIN pg_tables ON tablename = table_name AND schemaname = table_schema
       WHERE table_schema = 'public' AND table_name <> 'migrations' ORDER BY 1, 2`,
    );
    const models = Object.values(server.db.models) as ModelStatic<Model>[];
    const modelled = models.flatMap((model) =>
      Object.values(model.getAttributes()).map((attribute) => ({
        table: model.getTableName() as string,
        column: attribute.field!,
        type: TYPES[(attribute.type as unknown as { key: string }).key],
        isNullable: attribute.allowNull === true,
      })),
    );
    const key = ({ table, column }: { table: string; column: string }) => `${table}.${column}`;
    expect(modelled.map(key).sort()).toEqual(columns.map(key).sort());
    for (const { isGenerated, ...column } of columns) {
      const own = modelled.find((other) => key(other) === key(column))!;
      expect(own.type, key(column)).toBe(column.type);
      // Keys and what the database computes say nothing of NULL.
      const isKey = models
        .find((model) => model.getTableName() === column.table)!
        .primaryKeyAttributes.some(
          (attribute) => own.column === attribute.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`),
        );
      if (!isGenerated && !isKey) expect(own.isNullable, key(column)).toBe(column.isNullable);
    }
  });

  it("make every text and every JSON storable on its way in, also where many rows are written at once", async () => {
    const { Suite, SuiteDraft } = server.db.models;
    const odd = "a\0b\ud83d";
    await SuiteDraft.bulkCreate([{ suiteKey: "odd", yaml: odd }]);
    expect((await SuiteDraft.findByPk("odd"))!.yaml).toBe("a\ufffdb\ufffd");
    await SuiteDraft.update({ yaml: `${odd}!` }, { where: { suiteKey: "odd" } });
    expect((await SuiteDraft.findByPk("odd"))!.yaml).toBe("a\ufffdb\ufffd!");
    const [suite] = await Suite.upsert({ key: "odd", title: odd, sample: true }, { conflictFields: ["key"] });
    expect((await Suite.findOne({ where: { key: "odd" } }))!.title).toBe("a\ufffdb\ufffd");
    expect(suite.title).toBe("a\ufffdb\ufffd");
    const nonsense = { "k\0": [Number.NaN, 1e300, -1e300, "\udc00"] };
    const limit = Number.MAX_SAFE_INTEGER;
    expect(toStorable(nonsense)).toEqual({ "k\ufffd": [null, limit, -limit, "\ufffd"] });
  });
});
