import * as z from "zod";
import type { Models } from "../db/models.js";
import type { BundledTable } from "./tables.js";

interface Column {
  field?: string;
  type: { key: string };
  allowNull?: boolean;
  defaultValue?: unknown;
}

/** PostgreSQL's `integer`. */
const SMALLEST_INTEGER = -2_147_483_648;
const LARGEST_INTEGER = 2_147_483_647;

/** Each type of column, as PostgreSQL writes it in JSON. */
const WRITTEN: Readonly<Record<string, z.ZodType>> = {
  UUID: z.uuid(),
  TEXT: z.string(),
  BOOLEAN: z.boolean(),
  INTEGER: z.int().min(SMALLEST_INTEGER).max(LARGEST_INTEGER),
  "DOUBLE PRECISION": z.number(),
  DATE: z.iso.datetime({ offset: true }),
  ARRAY: z.array(z.uuid()),
  JSONB: z.json(),
  BLOB: z.string().regex(/^\\x(?:[0-9a-f]{2})*$/),
};

type ColumnEntry = readonly [field: string, column: Column];

function listColumns(models: Models, { model, withheld }: BundledTable): ColumnEntry[] {
  const columns = (models[model] as unknown as { getAttributes: () => Record<string, Column> }).getAttributes();
  return Object.entries(columns)
    .map(([name, column]) => [column.field ?? name, column] as const)
    .filter(([field]) => !withheld.includes(field));
}

/** The columns of a table that go into a bundle. */
export const columnsOf = (models: Models, table: BundledTable): string[] =>
  listColumns(models, table).map(([field]) => field);

/**
 * What a line of a table's records looks like: the columns of its model but those withheld. What the database has a default for may be missing,
 * so that a bundle of an older Tourney is read; what the model does not know is refused.
 */
export function recordSchemaOf(models: Models, table: BundledTable): z.ZodType<Record<string, unknown>> {
  const members = listColumns(models, table).map(([field, column]) => [field, schemaOf(field, column, table.json)]);
  return z.strictObject(Object.fromEntries(members) as Record<string, z.ZodType>);
}

function schemaOf(field: string, { type, allowNull, defaultValue }: Column, json: BundledTable["json"]): z.ZodType {
  const written = json[field] ?? WRITTEN[type.key];
  if (written === undefined) throw new Error(`A bundle has no way to write ${field}, which is ${type.key}.`);
  if (allowNull === true) return written.nullable().optional();
  return defaultValue === undefined || field === "id" ? written : written.optional();
}
