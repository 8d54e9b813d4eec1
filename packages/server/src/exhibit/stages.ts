import { padTo, stageBytes, stageDocument } from "@tourney/stage";
import type { BlobStore } from "@tourney/store";
import { cached } from "../cached.js";
import { createFlipBooks } from "./flip-books.js";
import type { StageRow } from "./exhibit-queries.sql.js";
import type { ExhibitReads } from "./repository.js";
import { makeIndexedDb } from "./indexed-db.js";
import { STAGE_PAGE, STAGE_RECORDING } from "./stage-address.js";
import type { StagePages } from "./stage-pages.js";

export interface StageDeps extends ExhibitReads {
  blobs: BlobStore;
  stagePages: StagePages;
}

/** The longest page changes seldom, and is asked for with every stage. */
const KNOWN_MS = 5000;
/** Files that stay beside a page have a length that is a multiple of this. */
const SMALLEST_FILE = 16_384;

/**
 * What voters' browsers get of an output. It tells nothing but the page itself: names are hidden, everything is one document, and all
 * documents of an edition have the same length.
 */
export function createStages(deps: StageDeps) {
  const { blobs, findStage, findLongestPage, stagePages } = deps;
  const makeFlipBook = createFlipBooks(deps);
  const longest = cached(findLongestPage, { keyOf: (editionId) => editionId, keptMs: KNOWN_MS });

  async function makePage(stage: StageRow): Promise<string | null> {
    const prepared = await stagePages.find(stage);
    const page = prepared === null ? null : await blobs.find(prepared.page);
    if (prepared === null || page === null) return null;
    return stageDocument(page.toString("latin1"), {
      names: await stagePages.listNames(),
      before: prepared.asksForDatabase ? await makeIndexedDb() : "",
      bytes: stageBytes(await longest(stage.editionId)),
    });
  }

  return {
    /** What lies at a path of a stage, or null. */
    async find(token: string, path: string): Promise<{ path: string; body: string | Buffer } | null> {
      const stage = await findStage(token);
      if (stage === null) return null;
      if (path === STAGE_RECORDING) return { path: "page.html", body: await makeFlipBook(stage) };
      if (path === STAGE_PAGE) {
        const body = await makePage(stage);
        return body === null ? null : { path: "page.html", body };
      }
      // A second page would be without what keeps the first one in its place.
      if (/\.x?html?$/i.test(path)) return null;
      const file = (await stagePages.find(stage))?.beside.find((one) => one.path === path);
      const bytes = file ? await blobs.find(file.sha256) : null;
      if (bytes === null) return null;
      const isText = /\.(?:css|m?js|json|csv)$/i.test(path);
      return { path, body: isText ? padTo(bytes.toString("utf8"), SMALLEST_FILE) : bytes };
    },
  };
}
