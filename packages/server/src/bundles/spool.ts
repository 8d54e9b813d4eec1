import { createReadStream } from "node:fs";
import { appendFile, mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Files that are written line by line, and read once they are whole. */
export interface Spool {
  add: (name: string, lines: readonly string[]) => Promise<void>;
  /** Those that have been added to, in order. */
  list: () => string[];
  read: (name: string) => AsyncIterable<Buffer>;
  remove: () => Promise<void>;
}

/** Opens an empty spool in a folder of its own. */
export async function openSpool(): Promise<Spool> {
  const folder = await mkdtemp(join(tmpdir(), "tourney-bundle-"));
  const names = new Set<string>();
  const pathOf = (name: string) => join(folder, name);
  return {
    async add(name, lines) {
      names.add(name);
      await appendFile(pathOf(name), lines.map((line) => `${line}\n`).join(""));
    },
    list: () => [...names],
    read: (name) => createReadStream(pathOf(name)) as AsyncIterable<Buffer>,
    remove: () => rm(folder, { recursive: true, force: true }),
  };
}
