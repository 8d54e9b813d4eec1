import { SuiteDefinition } from "@tourney/core/contract";
import { digestsOf } from "../suites/digests.js";
import type { Models } from "../db/models.js";
import { type OpenBundle, parseJson, refuseBundle } from "./read-bundle.js";
import { recordSchemaOf } from "./record-schema.js";
import { BUNDLED_TABLES, type BundledTable, listPictures, recordsPath } from "./tables.js";

/** What a bundle's records come to. */
export interface CheckedRecords {
  rows: number;
  ballots: number;
}

/** A row that names another, and where it does. */
interface Mention {
  table: string;
  id: string;
  place: string;
}

/**
 * Reads all records of a bundle: each line must be a row of its table, every row that it names must be among the others, and so must each file
 * and picture.
 *
 * @throws TourneyError INVALID_FILE with the place of the first that is wrong
 */
export async function checkRecords(bundle: OpenBundle, { path, models }: { path: string; models: Models }) {
  const known = new Map(BUNDLED_TABLES.map(({ name }) => [name, new Set<string>()]));
  const digests = new Set([...bundle.manifest.parts, ...bundle.manifest.missing].map(({ sha256 }) => sha256));
  const later: Mention[] = [];
  const isKnown = ({ table, id }: Mention) => known.get(table)!.has(id);
  const counted: CheckedRecords = { rows: 0, ballots: 0 };
  for (const table of BUNDLED_TABLES) {
    const schema = recordSchemaOf(models, table);
    let line = 0;
    for await (const text of bundle.readLines(recordsPath(table.name))) {
      const place = `${recordsPath(table.name)}, line ${++line}`;
      const parsed = schema.safeParse(parseJson(text));
      if (!parsed.success) throw refuseBundle(path, `${place}: ${describeIssue(parsed.error.issues[0]!)}`);
      const row = parsed.data;
      const id = row["id"] as string | undefined;
      if (id !== undefined && known.get(table.name)!.has(id))
        throw refuseBundle(path, `${place}: its id is that of a line above`);
      if (id !== undefined) known.get(table.name)!.add(id);
      // The row referred to may come later: an entrant names its present version.
      later.push(...listMentions(row, table, place).filter((mention) => !isKnown(mention)));
      const lost = listDigests(text, row, table).find((digest) => !digests.has(digest));
      if (lost !== undefined)
        throw refuseBundle(path, `${place}: its file of digest ${lost.slice(0, 12)}… is not in it`);
      if (table.name === "editions" && !isOfDigest(row))
        throw refuseBundle(path, `${place}: its content is not that of its digest`);
      counted.rows++;
      if (table.name === "ballots") counted.ballots++;
    }
  }
  const unknown = later.find((mention) => !isKnown(mention));
  if (unknown) throw refuseBundle(path, `${unknown.place} is ${unknown.id}, which is not in ${unknown.table}`);
  return counted;
}

const listMentions = (row: Record<string, unknown>, { references }: BundledTable, place: string): Mention[] =>
  Object.entries(references).flatMap(([column, table]) => {
    const id = row[column];
    return typeof id === "string" ? [{ table, id, place: `${place}: ${column}` }] : [];
  });

/** The files of an entry, and the pictures of a recording. */
function listDigests(line: string, row: Record<string, unknown>, { name }: BundledTable): string[] {
  if (name === "entries") return (row["files"] as { sha256: string }[]).map(({ sha256 }) => sha256);
  return name === "renders" ? listPictures(line) : [];
}

const isOfDigest = ({ content, digest }: Record<string, unknown>): boolean =>
  digestsOf(SuiteDefinition.parse(content)).includes(digest as string);

interface Issue {
  code?: string | undefined;
  keys?: string[];
  path: PropertyKey[];
  message: string;
}

function describeIssue({ code, keys, path, message }: Issue): string {
  if (code === "unrecognized_keys")
    return `it has ${keys?.join(", ") ?? "members"}, which this Tourney does not know; a newer one wrote it`;
  return path.length === 0 ? "it is no JSON object" : `${path.join(".")}: ${message}`;
}
