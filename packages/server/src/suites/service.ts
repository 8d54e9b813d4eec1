import { createHash } from "node:crypto";
import { type Edition, SuiteDefinition, type SuiteImportResult } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { toCanonicalJson } from "@tourney/core/suite";
import { readYaml } from "./read-yaml.js";
import type { SuiteRepository } from "./repository.js";

export function createSuiteService(repository: SuiteRepository) {
  return {
    listEditions: repository.listEditions,
    /** @throws TourneyError NOT_FOUND */
    async getEdition(editionId: string): Promise<Edition> {
      const edition = await repository.findEdition(editionId);
      if (edition) return edition;
      throw new TourneyError("NOT_FOUND", {
        message: `There is no edition ${editionId}.`,
        reason: "It may belong to another Tourney.",
        remedy: "Open the Suite page and choose one from the list.",
      });
    },
    /** Reads a suite file and freezes it. The same content gives the same edition, whatever the file's order or comments. */
    async importSuite(yaml: string): Promise<SuiteImportResult> {
      const suite = readYaml(SuiteDefinition, yaml, "The suite file");
      const digest = createHash("sha256").update(toCanonicalJson(suite)).digest("hex");
      return repository.freeze(suite, digest);
    },
  };
}
export type SuiteService = ReturnType<typeof createSuiteService>;
