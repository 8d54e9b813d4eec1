import { packPage, stageBytes, stageDocument } from "@tourney/stage";
import type { BlobStore } from "@tourney/store";
import { cached } from "../cached.js";
import type { StageRow } from "./exhibit-queries.sql.js";
import type { ExhibitReads } from "./repository.js";

/** New recordings come while a run is under way, and measuring them all takes a moment. */
const KEPT_MS = 60_000;
const SPARING = 50;

/** Recordings as pages that leaf through their pictures. All of an edition have the length of the longest. */
export function createFlipBooks({
  blobs,
  listPictures,
}: Pick<ExhibitReads, "listPictures"> & { blobs: BlobStore }): (stage: StageRow) => Promise<string> {
  async function measure(editionId: string): Promise<number> {
    let longest = 0;
    for (const files of await listPictures(editionId)) {
      const sizes = await Promise.all(files.map((file) => blobs.measure(digestOf(file))));
      // As base64, with what stands around each picture.
      const length = sizes.reduce((sum, size) => sum + size * 1.4 + 60, 2000);
      longest = Math.max(longest, length);
    }
    return longest;
  }
  const longest = cached(measure, { keyOf: (editionId) => editionId, keptMs: KEPT_MS, sparing: SPARING });

  async function makePage({ frames, namesItself }: StageRow): Promise<string> {
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

  return async (stage) =>
    stageDocument(await packPage(await makePage(stage)), {
      names: null,
      bytes: stageBytes(await longest(stage.editionId)),
    });
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
