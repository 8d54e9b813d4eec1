import {
  DEFAULT_MEND_TEMPLATE,
  type Edition,
  type EditionSummary,
  type SuiteDefinition,
  type SuiteDifference,
  type SuiteDraft,
  type SuiteImportResult,
  type SuitePreview,
} from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { compareSuites, findSameWordings, writeSuiteYaml } from "@tourney/core/suite";
import type { Stamps } from "../changes/changes.js";
import { Kept } from "../changes/kept.js";
import { digestsOf } from "./digests.js";
import type { Readers } from "../reading/readers.js";
import type { SuiteRepository } from "./repository.js";

export function createSuiteService(repository: SuiteRepository, readers: Readers) {
  const readSuite = (yaml: string) => readers.read("suite", yaml);
  async function getContent(editionId: string): Promise<SuiteDefinition> {
    const content = await repository.findContent(editionId);
    if (content) return content;
    throw noEdition(editionId);
  }
  const newestOf = async (suiteKey: string): Promise<EditionSummary[]> =>
    (await repository.listEditions())
      .filter((edition) => edition.suiteKey === suiteKey)
      .sort((a, b) => b.number - a.number);

  const summaries = new Kept<EditionSummary[]>(null);
  const editions = new Kept<Edition | null>(null);

  return {
    /** From now on editions are read again when something of them has changed or cells have come or gone, not each time. */
    follow(changes: Stamps) {
      summaries.follow(changes);
      editions.follow(changes);
    },
    listEditions: () => summaries.get("", () => repository.listEditions()),
    /** @throws TourneyError NOT_FOUND */
    async getEdition(editionId: string): Promise<Edition> {
      const edition = await editions.get(editionId, () => repository.findEdition(editionId));
      if (edition) return edition;
      throw noEdition(editionId);
    },
    /**
     * Reads a suite file and freezes it. The same content gives the same edition, whatever the file's order or comments.
     * @param seenDigest of the suite that was previewed: another one is not frozen.
     */
    async importSuite(yaml: string, seenDigest?: string): Promise<SuiteImportResult> {
      const suite = await readSuite(yaml);
      const digests = digestsOf(suite);
      if (seenDigest !== undefined && seenDigest !== digests[0]) throw notWhatWasSeen();
      if ((await repository.findByDigest(suite.key, digests)) === null) refuseSameWordings(suite);
      const result = await repository.freeze(suite, digests);
      await repository.dropDraft(suite.key);
      return result;
    },
    /** What importing a file would do: the difference from the newest edition of its suite. */
    async preview(yaml: string): Promise<SuitePreview> {
      const suite = await readSuite(yaml);
      const editions = await newestOf(suite.key);
      const newest = editions[0];
      const digests = digestsOf(suite);
      const known = editions.find(({ digest }) => digests.includes(digest));
      if (known === undefined) refuseSameWordings(suite);
      return {
        digest: digests[0],
        suiteKey: suite.key,
        suiteTitle: suite.title,
        promptCount: suite.prompts.length,
        nextNumber: (newest?.number ?? 0) + 1,
        sameAs: known?.number ?? null,
        against: newest?.number ?? null,
        difference: newest === undefined ? null : compareSuites(await getContent(newest.id), suite),
      };
    },
    exportFile: async (editionId: string) => ({
      yaml: writeSuiteYaml(await getContent(editionId), DEFAULT_MEND_TEMPLATE),
    }),
    compare: async (fromId: string, toId: string): Promise<SuiteDifference> =>
      compareSuites(await getContent(fromId), await getContent(toId)),
    /** Freezes an edition's prompts as edition 1 of another suite. @throws TourneyError CONFLICT when the key is taken. */
    async duplicate(editionId: string, { key, title }: { key: string; title: string }): Promise<SuiteImportResult> {
      if ((await newestOf(key)).length > 0) {
        throw new TourneyError("CONFLICT", {
          message: `There is a suite "${key}" already.`,
          reason: "A copy is a suite of its own, with a key of its own.",
          remedy: "Choose another key.",
        });
      }
      const suite = { ...(await getContent(editionId)), key, title };
      return repository.freeze(suite, digestsOf(suite));
    },
    async setArchived(suiteKey: string, isArchived: boolean): Promise<EditionSummary[]> {
      if (!(await repository.setArchived(suiteKey, isArchived))) throw noSuite(suiteKey);
      return repository.listEditions();
    },
    /** The draft of a suite's next edition; the newest edition's own file while there is none. */
    async getDraft(suiteKey: string): Promise<SuiteDraft> {
      const draft = await repository.findDraft(suiteKey);
      if (draft) return draft;
      const [newest] = await newestOf(suiteKey);
      if (newest === undefined) throw noSuite(suiteKey);
      const yaml = writeSuiteYaml(await getContent(newest.id), DEFAULT_MEND_TEMPLATE);
      return { suiteKey, yaml, savedAt: newest.frozenAt, basedOn: newest.number };
    },
    saveDraft: (suiteKey: string, yaml: string) => repository.saveDraft(suiteKey, yaml),
    dropDraft: async (suiteKey: string) => ({ dropped: await repository.dropDraft(suiteKey) }),
  };
}
export type SuiteService = ReturnType<typeof createSuiteService>;

/** @throws TourneyError INVALID_INPUT when two prompts send models the same request. */
function refuseSameWordings({ prompts }: SuiteDefinition): void {
  const [same] = findSameWordings(prompts);
  if (same === undefined) return;
  const [first, second] = same;
  throw new TourneyError("INVALID_INPUT", {
    message: `The prompts "${first}" and "${second}" send models the very same request.`,
    reason: "Answers belong to what was asked, so an answer to one would be an answer to the other.",
    remedy:
      "Word one of them differently, or leave one out. For several samples of one request, plan more takes. Nothing was frozen.",
  });
}

const notWhatWasSeen = () =>
  new TourneyError("CONFLICT", {
    message: "This is not the text that was compared.",
    reason: "It has changed since, and what is frozen is what was shown.",
    remedy: "Compare it again, then freeze it.",
  });

const noEdition = (editionId: string) =>
  new TourneyError("NOT_FOUND", {
    message: `There is no edition ${editionId}.`,
    reason: "It may belong to another Tourney.",
    remedy: "Open the Suite page and choose one from the list.",
  });

const noSuite = (suiteKey: string) =>
  new TourneyError("NOT_FOUND", {
    message: `There is no suite "${suiteKey}".`,
    reason: "A suite comes to be by importing its file.",
    remedy: "Open the Suite page and choose one from the list, or import a file.",
  });
