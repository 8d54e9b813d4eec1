import { type KnownName, maskPattern } from "@tourney/core/extraction";
import { hideInSheet, makeWhole, padTo, stageBytes, stageDocument } from "@tourney/stage";
import type { BlobStore } from "@tourney/store";
import { cached } from "../cached.js";
import { createFlipBooks } from "./flip-books.js";
import type { StageRow } from "./exhibit-queries.sql.js";
import type { ExhibitReads } from "./repository.js";
import { asksForIndexedDb, makeIndexedDb } from "./indexed-db.js";
import { typeOf } from "./media-types.js";
import { STAGE_PAGE, STAGE_RECORDING } from "./stage-address.js";

export interface StageDeps extends ExhibitReads {
  blobs: BlobStore;
  listKnownNames: () => Promise<KnownName[]>;
  /** A file of text as a browser may be given it: libraries addressed to the host that it is served on. */
  prepareText: (bytes: Buffer, path: string, how: { origin: string; isPage: boolean }) => string;
}

/** Names and the longest page change seldom, and are asked for with every stage. */
const KNOWN_MS = 5000;
/** Files that stay beside a page have a length that is a power of two, from this on. */
const SMALLEST_FILE = 16_384;

/**
 * What voters' browsers get of an output. It tells nothing but the page itself: names are hidden, everything is one document, and all
 * documents of an edition have the same length.
 */
export function createStages(deps: StageDeps) {
  const { blobs, findStage, findLongestPage, listKnownNames, prepareText } = deps;
  const makeFlipBook = createFlipBooks(deps);
  const names = cached(async () => maskPattern(await listKnownNames()), { keyOf: () => "", keptMs: KNOWN_MS });
  const longest = cached(findLongestPage, { keyOf: (editionId) => editionId, keptMs: KNOWN_MS });

  async function makePage({ entryPath, files, editionId }: StageRow, ownOrigin: string): Promise<string | null> {
    if (entryPath === null) return null;
    const own = await Promise.all(
      files.map(async ({ path }) => ({ path, type: typeOf(path), bytes: await readFile(files, path) })),
    );
    const hidden = await names(undefined);
    const whole = makeWhole(
      entryPath,
      own.flatMap((file) => (file.bytes === null ? [] : [{ ...file, bytes: file.bytes }])),
      (text, path) => {
        const prepared = prepareText(Buffer.from(text), path, { origin: ownOrigin, isPage: false });
        return path.endsWith(".css") ? hideInSheet(prepared, hidden) : prepared;
      },
    );
    if (whole === null) return null;
    return stageDocument(prepareText(Buffer.from(whole), entryPath, { origin: ownOrigin, isPage: true }), {
      names: hidden,
      before: asksForIndexedDb(own.map(({ bytes }) => bytes?.toString("utf8") ?? "")) ? await makeIndexedDb() : "",
      bytes: stageBytes(await longest(editionId)),
    });
  }

  async function readFile(files: StageRow["files"], path: string | null): Promise<Buffer | null> {
    const file = files.find((candidate) => candidate.path === path);
    return file ? blobs.find(file.sha256) : null;
  }

  return {
    /**
     * What lies at a path of a stage, or null.
     *
     * @param ownOrigin where it is served, as in http://stage-1f.localhost:4611
     */
    async find(
      token: string,
      path: string,
      ownOrigin: string,
    ): Promise<{ path: string; body: string | Buffer } | null> {
      const stage = await findStage(token);
      if (stage === null) return null;
      if (path === STAGE_RECORDING) return { path: "page.html", body: await makeFlipBook(stage) };
      if (path === STAGE_PAGE) {
        const body = await makePage(stage, ownOrigin);
        return body === null ? null : { path: "page.html", body };
      }
      // A second page would be without what keeps the first one in its place.
      const bytes = /\.x?html?$/i.test(path) ? null : await readFile(stage.files, path);
      if (bytes === null) return null;
      if (!/\.(?:css|m?js|json|csv)$/i.test(path)) return { path, body: bytes };
      return { path, body: padTo(prepareText(bytes, path, { origin: ownOrigin, isPage: false }), SMALLEST_FILE) };
    },
  };
}
