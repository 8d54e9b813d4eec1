import { createPseudonyms } from "../exports/pseudonyms.js";
import { openSpool, type Spool } from "./spool.js";
import type { BundleRepository } from "./repository.js";
import { type BundledTable, listPictures } from "./tables.js";

/** The records of an edition, on the disk until they are zipped. */
export interface PackedRecords {
  spool: Spool;
  /** The digests of the pictures that recordings name. */
  pictures: string[];
  underWay: number;
}

/**
 * Writes an edition's rows to temporary files, all as of one moment. A zip is read at the pace of whoever downloads it, and no transaction should
 * stay open for that long.
 *
 * @param secret of the people's pseudonyms; with null their names go out. An empty name stays empty.
 */
export async function packRecords(
  bundles: BundleRepository,
  editionId: string,
  secret: string | null,
): Promise<PackedRecords> {
  const spool = await openSpool();
  try {
    const pictures = new Set<string>();
    const underWay = await bundles.readRecords(editionId, async (table, lines) => {
      const { named } = table;
      await spool.add(table.name, named && secret ? lines.map((line) => concealName(line, named, secret)) : lines);
      if (table.name !== "renders") return;
      for (const digest of lines.flatMap(listPictures)) pictures.add(digest);
    });
    return { spool, underWay, pictures: [...pictures] };
  } catch (error) {
    await spool.remove();
    throw error;
  }
}

function concealName(line: string, { column, by, is }: NonNullable<BundledTable["named"]>, secret: string): string {
  const row = JSON.parse(line) as Record<string, unknown>;
  return row[column] === ""
    ? line
    : JSON.stringify({ ...row, [column]: createPseudonyms(is, secret)(String(row[by])) });
}
