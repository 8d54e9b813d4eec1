import { createHash } from "node:crypto";
import { BUNDLE_FORMAT, BundleManifest } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { Entry, ZipFile } from "yauzl";
import * as z from "zod";
import { listZip, openZip, readEntry, streamEntry } from "../zip.js";

/** The largest manifest that is read: some 500,000 files. */
const LARGEST_MANIFEST = 100_000_000;
/** The longest line of records: an answer with all its reasoning is far shorter. */
const LONGEST_LINE = 64_000_000;
const NEW_LINE = 10;

const AnyManifest = z.looseObject({ format: z.string() });

/** A bundle whose every byte is what its manifest says. */
export interface OpenBundle {
  manifest: BundleManifest;
  /** Lines of a part, without their ends; none where there is no such part. */
  readLines: (path: string) => AsyncGenerator<string>;
  /** A part as a whole. */
  readPart: (path: string) => Promise<Buffer>;
  close: () => void;
}

/** The error for a bundle that is not taken in, with the place. */
export const refuseBundle = (path: string, what: string, cause?: unknown): TourneyError =>
  new TourneyError("INVALID_FILE", {
    message: `${path} cannot be taken in: ${what}`,
    reason: "Standings that rest on part of a bundle, or on a changed one, would be other standings.",
    remedy: "Export it again with `./tourney export all --out bundle.zip`, and copy it whole. Nothing was taken in.",
    cause,
  });

/**
 * Opens a bundle, and reads all of it once to hold it against its manifest.
 *
 * @throws TourneyError INVALID_FILE for what is no bundle, is cut off, of another format, or not what its manifest says
 */
export async function openBundle(path: string, onProgress: (text: string) => void): Promise<OpenBundle> {
  const zip = await openZip(path).catch((cause: unknown) => {
    const why = cause instanceof Error ? cause.message : String(cause);
    throw refuseBundle(path, `it is no zip file, or half of one (${why})`, cause);
  });
  try {
    return await check(zip, path, onProgress);
  } catch (cause) {
    zip.close();
    if (cause instanceof TourneyError) throw cause;
    throw refuseBundle(path, `it cannot be unpacked: ${cause instanceof Error ? cause.message : String(cause)}`, cause);
  }
}

async function check(zip: ZipFile, path: string, onProgress: (text: string) => void): Promise<OpenBundle> {
  const entries = new Map<string, Entry>();
  for await (const entry of listZip(zip)) {
    if (entries.has(entry.fileName)) throw refuseBundle(path, `it has ${entry.fileName} twice`);
    entries.set(entry.fileName, entry);
  }
  const manifest = await readManifest(zip, { path, entry: entries.get("manifest.json") });
  const bytes = manifest.parts.reduce((sum, part) => sum + part.bytes, 0);
  onProgress(`${manifest.parts.length} files of ${Math.ceil(bytes / 1e6)} MB are held against their digests.`);
  const known = new Set(["manifest.json", ...[...manifest.parts, ...manifest.missing].map((part) => part.path)]);
  for (const name of entries.keys())
    if (!known.has(name)) throw refuseBundle(path, `its manifest does not know of ${name}`);
  for (const part of manifest.parts) {
    const entry = entries.get(part.path);
    if (entry === undefined) throw refuseBundle(path, `${part.path} is not in it`);
    if (entry.uncompressedSize !== part.bytes || (await digestOf(zip, entry)) !== part.sha256)
      throw refuseBundle(path, `${part.path} is not what its manifest says: its digest is another`);
  }
  return {
    manifest,
    readPart: (name) => readEntry(zip, entries.get(name)!),
    async *readLines(name) {
      const entry = entries.get(name);
      if (entry === undefined) return;
      const stream = (await streamEntry(zip, entry)) as unknown as AsyncIterable<Buffer>;
      yield* splitLines(stream, () => refuseBundle(path, `${name} has a line of more than ${LONGEST_LINE / 1e6} MB`));
    },
    close: () => zip.close(),
  };
}

async function readManifest(
  zip: ZipFile,
  { path, entry }: { path: string; entry: Entry | undefined },
): Promise<BundleManifest> {
  if (entry === undefined || entry.uncompressedSize > LARGEST_MANIFEST)
    throw refuseBundle(path, "it has no manifest.json, so it is no bundle of Tourney's");
  const found = parseJson((await readEntry(zip, entry)).toString("utf8"));
  const any = AnyManifest.safeParse(found);
  if (any.success && any.data.format !== BUNDLE_FORMAT) {
    const known = `this Tourney reads ${BUNDLE_FORMAT}`;
    throw refuseBundle(path, `its format is ${JSON.stringify(any.data.format.slice(0, 40))}; ${known}`);
  }
  const manifest = BundleManifest.safeParse(found);
  if (!manifest.success) {
    const [issue] = manifest.error.issues;
    throw refuseBundle(path, `manifest.json, ${issue!.path.join(".")}: ${issue!.message}`);
  }
  if (manifest.data.content !== "all")
    throw refuseBundle(path, "it holds answers and artifacts alone (it was made by `export entries`)");
  return manifest.data;
}

/** What JSON says; undefined where it is none. */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

async function digestOf(zip: ZipFile, entry: Entry): Promise<string> {
  const hash = createHash("sha256");
  for await (const chunk of await streamEntry(zip, entry)) hash.update(chunk);
  return hash.digest("hex");
}

async function* splitLines(chunks: AsyncIterable<Buffer>, tooLong: () => Error): AsyncGenerator<string> {
  let parts: Buffer[] = [];
  let length = 0;
  for await (const chunk of chunks) {
    let start = 0;
    for (let end = chunk.indexOf(NEW_LINE); end !== -1; end = chunk.indexOf(NEW_LINE, start)) {
      yield Buffer.concat([...parts, chunk.subarray(start, end)]).toString("utf8");
      parts = [];
      length = 0;
      start = end + 1;
    }
    parts.push(chunk.subarray(start));
    length += chunk.length - start;
    if (length > LONGEST_LINE) throw tooLong();
  }
  if (length > 0) yield Buffer.concat(parts).toString("utf8");
}
