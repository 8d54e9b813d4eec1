import { type KnownName, maskPattern } from "@tourney/core/extraction";
import { hideInSheet, makeWhole, padTo, stageBytes, stageDocument } from "@tourney/stage";
import type { BlobStore } from "@tourney/store";
import { keep } from "../kept.js";
import type { ExhibitRepository, StageRow } from "./repository.js";
import { typeOf } from "./media-types.js";
import { STAGE_PAGE, STAGE_RECORDING } from "./stage-address.js";

export interface StageDeps extends ExhibitRepository {
  blobs: BlobStore;
  listKnownNames: () => Promise<KnownName[]>;
  /** A file of text as a browser may be given it: libraries addressed to the host that it is served on. */
  prepareText: (bytes: Buffer, path: string, how: { origin: string; isPage: boolean }) => string;
}

/** Names and the longest page change seldom, and are asked for with every stage. */
const KNOWN_MS = 5000;
/** New recordings come while a run is under way, and measuring them all takes a moment. */
const BOOKS_MS = 60_000;
/** Files that stay beside a page have a length that is a power of two, from this on. */
const SMALLEST_FILE = 16_384;

/**
 * What voters' browsers get of an output. It tells nothing but the page itself: names are hidden, everything is one document, and all documents of an edition have the same length.
 */
export function createStages({
  blobs,
  findStage,
  findLongestPage,
  listPictures,
  listKnownNames,
  prepareText,
}: StageDeps) {
  const names = keep(async () => maskPattern(await listKnownNames()), { keyOf: () => "", keptMs: KNOWN_MS });
  const longest = keep(findLongestPage, { keyOf: (editionId) => editionId, keptMs: KNOWN_MS });

  const longestBook = keep(measureBooks, { keyOf: (editionId) => editionId, keptMs: BOOKS_MS, sparing: 50 });

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
      bytes: stageBytes(await longest(editionId)),
    });
  }

  async function makeRecording(stage: StageRow): Promise<string> {
    return stageDocument(await flipBook(stage), { names: null, bytes: stageBytes(await longestBook(stage.editionId)) });
  }

  /** The length of the longest flip-book of an edition: all get it. */
  async function measureBooks(editionId: string): Promise<number> {
    let longest = 0;
    for (const files of await listPictures(editionId)) {
      const sizes = await Promise.all(files.map((file) => blobs.measure(digestOf(file))));
      // As base64, with what stands around each picture.
      const length = sizes.reduce((sum, size) => sum + size * 1.4 + 60, 2000);
      longest = Math.max(longest, length);
    }
    return longest;
  }

  async function flipBook({ frames, namesItself }: StageRow): Promise<string> {
    // Names in a picture cannot be hidden.
    if (frames === null || namesItself) return NO_RECORDING;
    const pictures = await Promise.all(
      frames.map(async ({ atMs, file }) => ({ atMs, bytes: await blobs.find(digestOf(file)) })),
    );
    const shown = pictures.flatMap(({ atMs, bytes }) =>
      bytes === null ? [] : [{ atMs, src: `data:image/webp;base64,${bytes.toString("base64")}` }],
    );
    return shown.length === 0 ? NO_RECORDING : FLIP_BOOK.replace("[]", () => JSON.stringify(shown));
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
      if (path === STAGE_RECORDING) return { path: "page.html", body: await makeRecording(stage) };
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

const digestOf = (file: string): string => file.replace(/\.webp$/, "");

const STYLE =
  "<style>html,body{margin:0;height:100%;background:#fff;color:#333;font:16px sans-serif}img{display:block;width:100%;height:100%;object-fit:contain}p{margin:0;padding:40vh 0;text-align:center}</style>";
const NO_RECORDING = `<!doctype html><meta charset="utf-8">${STYLE}<p>There is no recording to show.</p>`;
const FLIP_BOOK = `<!doctype html><meta charset="utf-8">${STYLE}<img alt="The recording"><script>{
  const frames = [];
  const image = document.querySelector("img");
  const length = frames.at(-1).atMs + (frames.length > 1 ? frames[1].atMs - frames[0].atMs : 1000);
  const startedAt = performance.now();
  const show = (now) => {
    const at = (now - startedAt) % length;
    const { src } = frames.findLast(({ atMs }) => atMs <= at) ?? frames[0];
    if (image.src !== src) image.src = src;
    requestAnimationFrame(show);
  };
  show(startedAt);
}</script>`;
