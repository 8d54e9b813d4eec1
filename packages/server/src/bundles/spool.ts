import { createReadStream, createWriteStream, type WriteStream } from "node:fs";
import { mkdtemp, rm } from "node:fs/promises";
import { once } from "node:events";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { finished } from "node:stream/promises";

/** Files that are written line by line, and read once they are whole. */
export interface Spool {
  add: (name: string, lines: readonly string[]) => Promise<void>;
  /** Ends all files. */
  close: () => Promise<void>;
  /** Those that have been added to, in order. */
  list: () => string[];
  read: (name: string) => AsyncIterable<Buffer>;
  remove: () => Promise<void>;
}

/** Opens an empty spool in a folder of its own. */
export async function openSpool(): Promise<Spool> {
  const folder = await mkdtemp(join(tmpdir(), "tourney-bundle-"));
  const files = new Map<string, WriteStream>();
  const pathOf = (name: string) => join(folder, name);
  function open(name: string): WriteStream {
    const file = files.get(name) ?? createWriteStream(pathOf(name));
    files.set(name, file);
    return file;
  }
  return {
    async add(name, lines) {
      const file = open(name);
      if (!file.write(lines.map((line) => `${line}\n`).join(""))) await once(file, "drain");
    },
    async close() {
      for (const file of files.values()) {
        file.end();
        await finished(file);
      }
    },
    list: () => [...files.keys()],
    read: (name) => createReadStream(pathOf(name)) as AsyncIterable<Buffer>,
    remove: () => rm(folder, { recursive: true, force: true }),
  };
}
