import { type Entrant, type EntrantInput, EntrantsDefinition, type EntrantsImportResult } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { toCanonicalJson } from "@tourney/core/suite";
import { readYaml } from "../suites/read-yaml.js";
import type { EntrantRepository, EntrantRow } from "./repository.js";

/** Reads a key by the name of its environment variable; null when it is not set. */
export type ReadKey = (variable: string) => string | null;

function toEntrantInput(row: EntrantRow): EntrantInput {
  const { key, name, maker, model, settings } = row;
  const endpoint =
    row.protocol === "by-hand"
      ? { protocol: row.protocol }
      : {
          protocol: row.protocol,
          baseUrl: row.baseUrl!,
          concurrency: row.concurrency,
          ...(row.keyVariable === null ? {} : { keyVariable: row.keyVariable }),
        };
  return { key, name, maker, model, settings, endpoint, ...(row.prices === null ? {} : { prices: row.prices }) };
}

export function createEntrantService(repository: EntrantRepository, readKey: ReadKey) {
  const toEntrant = (row: EntrantRow): Entrant => ({
    ...toEntrantInput(row),
    id: row.id,
    glyph: row.glyph,
    sample: row.sample,
    generations: row.generations,
    keyPresent: row.keyVariable === null ? null : readKey(row.keyVariable) !== null,
    createdAt: row.createdAt,
  });

  /** @throws TourneyError CONFLICT when another entrant has the key or the name. */
  async function refuseDuplicate(input: EntrantInput, ownId: string | null): Promise<void> {
    for (const column of ["key", "name"] as const) {
      const other = await repository.find(column, input[column]);
      if (other === null || other.id === ownId) continue;
      throw new TourneyError("CONFLICT", {
        message: `The ${column} "${input[column]}" is taken.`,
        reason: "Two entrants that are called alike could not be told apart on the wall.",
        remedy: `Choose another ${column}.`,
      });
    }
  }

  async function getRow(entrantId: string): Promise<EntrantRow> {
    const row = await repository.find("id", entrantId);
    if (row) return row;
    throw new TourneyError("NOT_FOUND", {
      message: `There is no entrant ${entrantId}.`,
      reason: "It may have been entered in another Tourney.",
      remedy: "Open the Entrants page and choose one from the list.",
    });
  }

  return {
    getRow,
    list: async () => (await repository.list()).map(toEntrant),
    async add(input: EntrantInput, sample = false): Promise<Entrant> {
      await refuseDuplicate(input, null);
      return toEntrant(await repository.add(input, sample));
    },
    async replace(entrantId: string, input: EntrantInput): Promise<Entrant> {
      const row = await getRow(entrantId);
      if (row.generations > 0) {
        throw new TourneyError("CONFLICT", {
          message: `${row.name} has ${row.generations} generations and cannot be changed.`,
          reason: "Its answers were made with these settings; changing them would make the comparison untrue.",
          remedy: "Add another entrant with the new settings.",
        });
      }
      await refuseDuplicate(input, entrantId);
      return toEntrant(await repository.replace(entrantId, input));
    },
    /** Adds the entrants of a file that are not there yet. One that is there with other settings refuses the whole file. */
    async importEntrants(yaml: string): Promise<EntrantsImportResult> {
      const file = readYaml(EntrantsDefinition, yaml, "The entrants file");
      const fresh: EntrantInput[] = [];
      for (const input of file.entrants) {
        const known = await repository.find("key", input.key);
        if (known === null) {
          await refuseDuplicate(input, null);
          fresh.push(input);
        } else if (toCanonicalJson(toEntrantInput(known)) !== toCanonicalJson(input)) {
          throw new TourneyError("CONFLICT", {
            message: `The entrant "${input.key}" is there with other settings.`,
            reason: "Settings are pinned: the same model with other settings is another entrant.",
            remedy: "Give it another key and name in the file. Nothing was changed.",
          });
        }
      }
      for (const input of fresh) await repository.add(input, file.sample);
      const keys = new Set(file.entrants.map(({ key }) => key));
      const entrants = (await repository.list()).filter(({ key }) => keys.has(key)).map(toEntrant);
      return { entrants, created: fresh.length, unchanged: entrants.length - fresh.length };
    },
  };
}
export type EntrantService = ReturnType<typeof createEntrantService>;
