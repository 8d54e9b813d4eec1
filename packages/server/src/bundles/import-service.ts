import { TourneyError } from "@tourney/core/errors";
import type { BlobStore, Room } from "@tourney/store";
import type { Database, Transaction } from "../db/connection.js";
import type { AuditRepository } from "../voting/audit-repository.js";
import { checkRecords } from "./check-records.js";
import { openBundle, type OpenBundle, refuseBundle } from "./read-bundle.js";
import type { BundleRepository } from "./repository.js";
import { BUNDLED_TABLES, type BundledTable, recordsPath } from "./tables.js";

interface ImportDeps {
  db: Database;
  bundles: BundleRepository;
  blobs: BlobStore;
  audit: AuditRepository;
  room: Room;
}

/** Rows are written together as long as they come to no more than this. */
const MOST_CHARACTERS = 4_000_000;
const MOST_ROWS = 1000;
/** A file of an entry, and a picture, is held in memory while it is kept. */
const LARGEST_FILE = 100_000_000;
/** Parts that are kept by their digest: what entries are made of, and what recordings show. */
const KEPT = /^(?:pictures\/|entries\/[^/]+\/[^/]+\/[^/]+\/artifact\/)/;

/** Takes in what `export all` wrote. */
export function createBundleImportService({ db, bundles, blobs, audit, room }: ImportDeps) {
  async function refuseUnlessEmpty(transaction?: Transaction): Promise<void> {
    if (await bundles.isEmpty(transaction)) return;
    throw new TourneyError("CONFLICT", {
      message: "This Tourney is not empty.",
      reason:
        "A bundle brings its own suite, entrants and panels under their own ids, and would meet those that are here.",
      remedy:
        "Import it into a fresh clone. To take in ballots alone, use `./tourney import-ballots FILE.csv`. Nothing was taken in.",
    });
  }

  async function refuseTooLarge({ manifest }: OpenBundle, path: string): Promise<void> {
    const tooLarge = manifest.parts.find((part) => KEPT.test(part.path) && part.bytes > LARGEST_FILE);
    if (tooLarge) throw refuseBundle(path, `${tooLarge.path} is larger than ${LARGEST_FILE / 1e6} MB`);
    const bytes = manifest.parts.reduce((sum, part) => sum + part.bytes, 0);
    const { freeBytes } = await room.read();
    if (bytes <= freeBytes) return;
    throw new TourneyError("DISK_FULL", {
      message: `The bundle comes to ${Math.ceil(bytes / 1e6)} MB, and ${Math.floor(freeBytes / 1e6)} MB are free.`,
      reason: "It is taken in whole or not at all.",
      remedy: "Make room on the disk of Tourney's data, and import it again. Nothing was taken in.",
    });
  }

  /** Writes a table's rows, as many at a time as fit. */
  async function writeTable(bundle: OpenBundle, table: BundledTable, transaction: Transaction): Promise<void> {
    let rows: Record<string, unknown>[] = [];
    let characters = 0;
    let columns = "";
    async function flush() {
      await bundles.write(table, rows, transaction);
      rows = [];
      characters = 0;
    }
    for await (const line of bundle.readLines(recordsPath(table.name))) {
      const row = { ...(JSON.parse(line) as Record<string, unknown>), ...table.renew() };
      const itsColumns = Object.keys(row).join();
      // Rows of one statement have the same columns: what is missing takes its default.
      if (itsColumns !== columns || rows.length >= MOST_ROWS || characters > MOST_CHARACTERS) await flush();
      columns = itsColumns;
      rows.push(row);
      characters += line.length;
    }
    await flush();
  }

  async function write(bundle: OpenBundle, path: string): Promise<void> {
    await db.transact(async (transaction) => {
      await bundles.lock(transaction);
      await refuseUnlessEmpty(transaction);
      for (const table of BUNDLED_TABLES) {
        await writeTable(bundle, table, transaction).catch((cause: unknown) => {
          const why = cause instanceof Error ? cause.message : String(cause);
          throw refuseBundle(path, `${recordsPath(table.name)}: ${why}`, cause);
        });
      }
      const { suite, madeAt } = bundle.manifest;
      const detail = { suite: suite.key, edition: suite.edition, madeAt };
      await audit.add({ actor: "lead", action: "took in a bundle", detail }, transaction);
      for (const { path: part } of bundle.manifest.parts)
        if (KEPT.test(part)) await blobs.put(await bundle.readPart(part));
    });
  }

  return {
    /**
     * All of a bundle or nothing, into a Tourney where nothing was set up. Links to panels, booths and stages are new ones: nobody gets in by those
     * of where it comes from.
     *
     * @throws TourneyError INVALID_FILE that names the place, CONFLICT where something is set up, DISK_FULL
     */
    async importBundle(path: string, onProgress: (text: string) => void) {
      await refuseUnlessEmpty();
      const bundle = await openBundle(path, onProgress);
      try {
        await refuseTooLarge(bundle, path);
        const counted = await checkRecords(bundle, { path, models: db.models });
        onProgress(`${counted.rows} records are in order, and are written.`);
        await write(bundle, path);
        return { ...counted, manifest: bundle.manifest };
      } finally {
        bundle.close();
      }
    },
  };
}
