import { createHash } from "node:crypto";
import type { KnownName } from "@tourney/core/extraction";
import { toCanonicalJson } from "@tourney/core/suite";
import type { Logger } from "pino";
import { cached } from "../cached.js";
import { type Readers, TooCostly } from "../reading/readers.js";
import type { PreparedPage, StageEntry } from "./exhibit-queries.sql.js";
import type { ExhibitRepository } from "./repository.js";

/** Changes when what is made of an artifact for voters does. */
const MADE_BY = "1";
/** Names change seldom, and are asked for with every stage. */
const KNOWN_MS = 5000;

const digest = (value: object): string => createHash("sha256").update(toCanonicalJson(value)).digest("hex");

export interface StagePages {
  /** What voters are given of an entry, prepared before or now; null where there is no page. */
  find: (entry: StageEntry) => Promise<PreparedPage | null>;
  /** Prepares the entry of a recording, so that no voter waits for it. What goes wrong is logged: a stage asks again. */
  prepareRecorded: (renderId: string) => Promise<void>;
  listNames: () => Promise<readonly KnownName[]>;
}

/** Pages as voters get them: prepared once, and again when a name is known that was not known then. */
export function createStagePages({
  exhibits,
  readers,
  listKnownNames,
  blobsDir,
  exhibitOrigin,
  log,
}: {
  exhibits: Pick<ExhibitRepository, "findRecorded" | "keepPage">;
  readers: Readers;
  listKnownNames: () => Promise<KnownName[]>;
  blobsDir: string;
  exhibitOrigin: string;
  log: Logger;
}): StagePages {
  const shelf = `${exhibitOrigin}/shelf`;
  const known = cached(
    async () => {
      const names = await listKnownNames();
      return { names, madeBy: digest({ MADE_BY, shelf, names }) };
    },
    { keyOf: () => "", keptMs: KNOWN_MS },
  );
  const underWay = new Map<string, Promise<PreparedPage | null>>();

  /** Of all that a page is made of: an entry may get other files. */
  const nameMake = ({ entryPath, files }: StageEntry, madeBy: string): string => digest({ madeBy, entryPath, files });

  async function make(entry: StageEntry & { entryPath: string }): Promise<PreparedPage | null> {
    const { id, entryPath, files } = entry;
    const { names, madeBy } = await known(undefined);
    const made = await readers.read("page", { blobsDir, entryPath, files, names, shelf }).catch((thrown: unknown) => {
      if (!(thrown instanceof TooCostly)) throw thrown;
      log.warn({ entryId: id, why: thrown.why }, "an entry cannot be prepared for voters");
      return null;
    });
    if (made === null) return null;
    const page = { ...made, madeBy: nameMake(entry, madeBy) };
    await exhibits.keepPage(id, page);
    return page;
  }

  async function find(entry: StageEntry): Promise<PreparedPage | null> {
    const { id, entryPath, page } = entry;
    if (entryPath === null) return null;
    if (page !== null && page.madeBy === nameMake(entry, (await known(undefined)).madeBy)) return page;
    const making = underWay.get(id) ?? make({ ...entry, entryPath }).finally(() => underWay.delete(id));
    underWay.set(id, making);
    return making;
  }

  return {
    find,
    async prepareRecorded(renderId) {
      try {
        const entry = await exhibits.findRecorded(renderId);
        if (entry !== null) await find(entry);
      } catch (error) {
        log.warn({ err: error, renderId }, "an entry could not be prepared for voters");
      }
    },
    listNames: async () => (await known(undefined)).names,
  };
}
