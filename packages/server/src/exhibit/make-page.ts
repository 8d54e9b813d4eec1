import { blankNames } from "@tourney/core/blinding";
import type { KnownName } from "@tourney/core/extraction";
import { makeWhole, packPage } from "@tourney/stage";
import { createFolderBlobStore } from "@tourney/store";
import type { PreparedPage } from "./exhibit-queries.sql.js";
import { asksForIndexedDb } from "./indexed-db.js";
import { typeOf } from "./media-types.js";
import { isProgramText, prepareText } from "./prepare-text.js";

/** Texts, in which names are looked for; all else is passed on as it is. */
const TEXT = /\.(?:html?|xhtml|svg|css|[mc]?js|json|csv|tsv|txt|md|xml|vtt|srt|glsl|frag|vert|webmanifest|map)$/i;

/** What is made of an artifact for voters. */
export interface PageOrder {
  /** Of the blob store. */
  blobsDir: string;
  entryPath: string;
  files: readonly { path: string; sha256: string }[];
  names: readonly KnownName[];
  /** Where libraries are, as in http://127.0.0.1:4611/shelf */
  shelf: string;
}

/**
 * Prepares an artifact for voters, once: what in its source tells of its maker is blanked, everything is one document, packed. It is kept in the blob
 * store, beside the files that it may still ask for while it runs.
 *
 * @returns null where there is no page
 */
export async function makePage({
  blobsDir,
  entryPath,
  files,
  names,
  shelf,
}: PageOrder): Promise<Omit<PreparedPage, "madeBy"> | null> {
  const blobs = createFolderBlobStore(blobsDir);
  const own: { path: string; bytes: Buffer }[] = [];
  for (const { path, sha256 } of files) {
    const bytes = await blobs.find(sha256);
    if (bytes !== null) own.push({ path, bytes });
  }
  const isText = ({ path }: { path: string }) => path === entryPath || TEXT.test(path);
  // All together: what refers to a file whose name tells refers to it by the name that it has then.
  const blanked = blankNames(
    own.map((file) => ({ path: file.path, text: isText(file) ? file.bytes.toString("utf8") : "" })),
    names,
  );
  const shown = own.map((file, index) => {
    const { path, text } = blanked[index]!;
    return { path, type: typeOf(file.path), bytes: isText(file) ? Buffer.from(text) : file.bytes };
  });
  const entry = blanked[own.findIndex(({ path }) => path === entryPath)]?.path ?? entryPath;
  const whole = makeWhole(entry, shown, (text, path) => prepareText(text, path, { shelf, isPage: false }));
  if (whole === null) return null;
  const html = prepareText(whole, entryPath, { shelf, isPage: true });
  const page = await packPage(html);
  const beside = [];
  for (const { path, bytes } of shown) {
    if (path === entry) continue;
    const file = isProgramText(path)
      ? Buffer.from(prepareText(bytes.toString("utf8"), path, { shelf, isPage: false }))
      : bytes;
    beside.push({ path, sha256: await blobs.put(file) });
  }
  return {
    page: await blobs.put(Buffer.from(page)),
    bytes: page.length,
    asksForDatabase: asksForIndexedDb(blanked.map(({ text }) => text)),
    beside,
  };
}
