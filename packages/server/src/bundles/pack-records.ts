import { openSpool, type Spool } from "./spool.js";
import type { BundleRepository } from "./repository.js";
import type { BundledTable } from "./tables.js";

/** The records of an edition, on the disk until they are zipped. */
export interface PackedRecords {
  spool: Spool;
  /** The digests of the pictures that recordings name. */
  pictures: string[];
  underWay: number;
}

const PICTURE = /"([0-9a-f]{64})\.webp"/g;

/**
 * Writes an edition's rows to temporary files, all as of one moment. A zip is read at the pace of whoever downloads it, and no transaction should
 * stay open for that long.
 *
 * @param pseudonyms by table: makes a pseudonym of a person's id. An empty name stays empty.
 */
export async function packRecords(
  bundles: BundleRepository,
  editionId: string,
  pseudonyms: Readonly<Record<string, (of: string) => string>>,
): Promise<PackedRecords> {
  const spool = await openSpool();
  try {
    const pictures = new Set<string>();
    const underWay = await bundles.readRecords(editionId, async (table, lines) => {
      const conceal = pseudonyms[table.name];
      await spool.add(table.name, conceal ? lines.map((line) => concealName(line, table, conceal)) : lines);
      if (table.name !== "renders") return;
      for (const line of lines) for (const [, digest] of line.matchAll(PICTURE)) pictures.add(digest!);
    });
    return { spool, underWay, pictures: [...pictures] };
  } catch (error) {
    await spool.remove();
    throw error;
  }
}

function concealName(line: string, { named }: BundledTable, conceal: (of: string) => string): string {
  const row = JSON.parse(line) as Record<string, unknown>;
  const { column, by } = named!;
  return row[column] === "" ? line : JSON.stringify({ ...row, [column]: conceal(String(row[by])) });
}
