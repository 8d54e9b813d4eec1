import { buffer } from "node:stream/consumers";
import type { BlobStore } from "@tourney/store";
import { ZipFile } from "yazl";
import type { EntryRow } from "./entry-queries.sql.js";

/** One file for the lead's disk. */
export interface SavedEntry {
  name: string;
  bytes: Buffer;
}

/** Names of files within the zip: a path that would lead out of the folder stays in it. */
export const within = (path: string): string =>
  path
    .split(/[\\/]+/)
    .filter((part) => part !== "" && part !== "." && part !== "..")
    .map((part) => part.replaceAll(":", "_"))
    .join("/") || "file";

/** An entry's files as the answer had them, in a zip whose page opens from disk. A file that is missing from the store is left out and named. */
export async function saveEntry(row: EntryRow, blobs: BlobStore): Promise<SavedEntry> {
  const folder = [
    row.prompt.key,
    row.entrantKey,
    `take-${row.take}`,
    ...(row.round > 0 ? [`round-${row.round}`] : []),
  ].join("-");
  const zip = new ZipFile();
  const missing: string[] = [];
  for (const { path, sha256 } of row.files) {
    const bytes = await blobs.find(sha256);
    if (bytes === null) missing.push(path);
    else zip.addBuffer(bytes, `${folder}/${within(path)}`);
  }
  if (missing.length > 0) zip.addBuffer(Buffer.from(`${missing.join("\n")}\n`), `${folder}/missing-files.txt`);
  zip.end();
  return { name: `${folder}.zip`, bytes: await buffer(zip.outputStream) };
}
