import { buffer } from "node:stream/consumers";
import { type Entry, fromBuffer, open, type Options, type ZipFile } from "yauzl";

// Sizes that a zip gives for its files are held against what comes out of them.
const OPTIONS = { lazyEntries: true, validateEntrySizes: true, autoClose: false } satisfies Options;

/** Opens a zip, by its path or from memory. @throws what yauzl says of one that is broken */
export const openZip = (source: string | Buffer): Promise<ZipFile> =>
  new Promise((resolve, reject) => {
    const done = (error: Error | null, zip: ZipFile) => (error ? reject(error) : resolve(zip));
    if (typeof source === "string") open(source, OPTIONS, done);
    else fromBuffer(source, OPTIONS, done);
  });

/** What stands before each file's bytes at least, in bytes. */
const LOCAL_HEADER = 30;

/**
 * Its files in their order, folders left out.
 *
 * @throws Error for a zip whose files share bytes: a few thousand of them could be unpacked to any size
 */
export async function* listZip(zip: ZipFile): AsyncGenerator<Entry> {
  let packed = 0;
  for (;;) {
    const entry = await new Promise<Entry | null>((resolve, reject) => {
      zip
        .removeAllListeners()
        .once("entry", resolve)
        .once("end", () => resolve(null))
        .once("error", reject);
      zip.readEntry();
    });
    if (entry === null) return;
    packed += LOCAL_HEADER + entry.compressedSize;
    if (packed > zip.fileSize)
      throw new Error("Its files lie over one another: together they are longer than the zip.");
    if (!entry.fileName.endsWith("/")) yield entry;
  }
}

/** The bytes of a file as they are unpacked. */
export const streamEntry = (zip: ZipFile, entry: Entry): Promise<NodeJS.ReadableStream> =>
  new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  );

/** A file as a whole. Look at its `uncompressedSize` first. */
export const readEntry = async (zip: ZipFile, entry: Entry): Promise<Buffer> => buffer(await streamEntry(zip, entry));
