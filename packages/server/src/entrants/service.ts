import {
  type Entrant,
  type EntrantInput,
  type EntrantsImportResult,
  type EntrantVersions,
} from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { toCanonicalJson } from "@tourney/core/suite";
import type { Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import type { Database, Transaction } from "../db/connection.js";
import type { ReadKey } from "../keys/key-ring.js";
import type { Readers } from "../reading/readers.js";
import type { AuditRepository } from "../voting/audit-repository.js";
import { type EntrantRepository, type EntrantRow, toEntrantInput } from "./repository.js";

export function createEntrantService(
  repository: EntrantRepository,
  { readKey, readers, db, audit }: { readKey: ReadKey; readers: Readers; db: Database; audit: AuditRepository },
) {
  const toEntrant = (row: EntrantRow): Entrant => ({
    ...toEntrantInput(row),
    id: row.id,
    versionId: row.versionId,
    version: row.version.number,
    versions: row.versions,
    retiredAt: row.retiredAt,
    glyph: row.glyph,
    sample: row.sample,
    generations: row.generations,
    keyPresent: row.endpoint.keyVariable === null ? null : readKey(row.endpoint.keyVariable) !== null,
    createdAt: row.createdAt,
  });

  /** @throws TourneyError CONFLICT when another entrant has the key or the name, NOT_FOUND for an unknown predecessor. */
  async function check(input: EntrantInput, ownId: string | null, transaction: Transaction): Promise<void> {
    for (const column of ["key", "name"] as const) {
      const other = await repository.find(column, input[column], transaction);
      if (other === null || other.id === ownId) continue;
      throw new TourneyError("CONFLICT", {
        message: `The ${column} "${input[column]}" is taken.`,
        reason: "Two entrants that are called alike could not be told apart on the wall.",
        remedy: `Choose another ${column}.`,
      });
    }
    if (input.predecessor !== undefined) await checkLine(input.predecessor, input.key, transaction);
  }

  /** Follows the line of predecessors to its beginning. */
  async function checkLine(predecessor: string, ownKey: string, transaction: Transaction): Promise<void> {
    const line = [ownKey];
    for (let key: string | null = predecessor; key !== null;) {
      if (line.includes(key)) {
        throw new TourneyError("CONFLICT", {
          message: `${ownKey} would succeed itself (${[...line, key].join(" ← ")}).`,
          reason: "A line of predecessors has a beginning.",
          remedy: "Name the entrant that came before, or none.",
        });
      }
      line.push(key);
      const row: EntrantRow | null = await repository.find("key", key, transaction);
      if (row === null) {
        throw new TourneyError("NOT_FOUND", {
          message: `There is no entrant "${key}" to be a predecessor.`,
          reason: "A predecessor is named by its key and must be entered first, or stand before it in the file.",
          remedy: "Enter it first, or leave the predecessor out.",
        });
      }
      key = row.predecessor?.key ?? null;
    }
  }

  async function getRow(entrantId: string, transaction?: Transaction): Promise<EntrantRow> {
    const row = await repository.find("id", entrantId, transaction);
    if (row) return row;
    throw new TourneyError("NOT_FOUND", {
      message: `There is no entrant ${entrantId}.`,
      reason: "It may have been entered in another Tourney.",
      remedy: "Open the Entrants page and choose one from the list.",
    });
  }

  /** What was answered keeps the settings it was answered with: a change of them makes the next version. */
  async function change(row: EntrantRow, input: EntrantInput, transaction: Transaction): Promise<EntrantRow> {
    await check(input, row.id, transaction);
    const changed = await repository.replace(row, input, transaction);
    const versions = { from: row.version.number, to: changed.version.number };
    if (versions.from !== versions.to)
      await audit.add(
        { actor: "lead", action: "set an entrant up otherwise", detail: { entrant: changed.name, ...versions } },
        transaction,
      );
    return changed;
  }

  const listed = new Kept<EntrantRow[]>(null);

  return {
    getRow,
    list: async () => (await listed.get("", () => repository.list())).map(toEntrant),
    /** From now on entrants are read again when something of them has changed or cells have come or gone, not each time. */
    follow: (changes: Stamps) => listed.follow(changes),
    add: (input: EntrantInput, sample = false): Promise<Entrant> =>
      db.transact(async (transaction) => {
        await check(input, null, transaction);
        return toEntrant(await repository.add(input, sample, transaction));
      }),
    replace: (entrantId: string, input: EntrantInput): Promise<Entrant> =>
      db.transact(async (transaction) =>
        toEntrant(await change(await getRow(entrantId, transaction), input, transaction)),
      ),
    async listVersions(entrantId: string): Promise<EntrantVersions> {
      const { versionId } = await getRow(entrantId);
      return repository.listVersions(entrantId, versionId);
    },
    /** Takes an entrant out of further runs, or back in. Its entries and ballots stay. */
    async setRetired(entrantId: string, isRetired: boolean): Promise<Entrant> {
      await getRow(entrantId);
      await repository.setRetired(entrantId, isRetired);
      return toEntrant(await getRow(entrantId));
    },
    /** Removes an entrant that has nothing yet. @throws TourneyError CONFLICT when it has generations. */
    async remove(entrantId: string): Promise<void> {
      const { name, generations } = await getRow(entrantId);
      if (generations > 0) {
        throw new TourneyError("CONFLICT", {
          message: `${name} has ${generations} generations and cannot be removed.`,
          reason: "Ballots and costs hang on what it answered.",
          remedy: "Retire it: it stays on the wall and takes part in no further run.",
        });
      }
      await repository.remove(entrantId);
    },
    /** Takes in the entrants of a file, all or none: new ones are added, changed ones get their next version. */
    async importEntrants(yaml: string): Promise<EntrantsImportResult> {
      const file = await readers.read("entrants", yaml);
      const counts = { created: 0, changed: 0, unchanged: 0 };
      await db.transact(async (transaction) => {
        for (const input of file.entrants) {
          const known = await repository.find("key", input.key, transaction);
          if (known === null) {
            await check(input, null, transaction);
            await repository.add(input, file.sample, transaction);
            counts.created++;
          } else if (toCanonicalJson(toEntrantInput(known)) === toCanonicalJson(input)) counts.unchanged++;
          else {
            await change(known, input, transaction);
            counts.changed++;
          }
        }
      });
      const keys = new Set(file.entrants.map(({ key }) => key));
      return { entrants: (await repository.list()).filter(({ key }) => keys.has(key)).map(toEntrant), ...counts };
    },
  };
}
export type EntrantService = ReturnType<typeof createEntrantService>;
