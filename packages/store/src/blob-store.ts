import { createHash, randomUUID } from "node:crypto";
import { lchown, mkdir, readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";

/** Files by the SHA-256 of their bytes: written once, never changed. */
export interface BlobStore {
  /** Keeps the bytes; resolves with their digest. Keeping the same bytes twice is free. */
  put: (bytes: Buffer) => Promise<string>;
  /** The bytes, or null when there are none of that digest. */
  find: (sha256: string) => Promise<Buffer | null>;
  /** How many bytes there are of that digest; 0 when there are none. */
  measure: (sha256: string) => Promise<number>;
}

/** A blob store in a folder: `ab/abcdef….` A file appears under its name only when it is whole. */
export function createFolderBlobStore(folder: string): BlobStore {
  const pathOf = (sha256: string) => join(folder, sha256.slice(0, 2), sha256);
  return {
    async put(bytes) {
      const sha256 = createHash("sha256").update(bytes).digest("hex");
      const path = pathOf(sha256);
      if (await isThere(path)) return sha256;
      const made = await mkdir(dirname(path), { recursive: true });
      const temporary = `${path}.${randomUUID()}`;
      try {
        await writeFile(temporary, bytes);
        if (process.getuid?.() === 0) await giveToOwner(made ?? temporary, temporary);
        await rename(temporary, path);
      } catch (error) {
        // A half-written file (a full disk, say) must not stay behind.
        await rm(temporary, { force: true });
        throw error;
      }
      return sha256;
    },
    async find(sha256) {
      try {
        return await readFile(pathOf(sha256));
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code === "ENOENT") return null;
        throw error;
      }
    },
    measure: (sha256) =>
      stat(pathOf(sha256)).then(
        ({ size }) => size,
        () => 0,
      ),
  };
}

/** Gives what root wrote, from a folder down to a file in it, to whom the folder around it belongs: others of our programs do not run as root. */
async function giveToOwner(first: string, last: string): Promise<void> {
  const { uid, gid } = await stat(dirname(first));
  for (let path = last; path.length >= first.length; path = dirname(path)) await lchown(path, uid, gid);
}

async function isThere(path: string): Promise<boolean> {
  return stat(path).then(
    () => true,
    () => false,
  );
}
