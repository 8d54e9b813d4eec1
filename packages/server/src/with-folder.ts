import { mkdir, mkdtemp, rm } from "node:fs/promises";
import { join } from "node:path";

/** A folder that is there as long as something is worked on. */
export async function withFolder<T>(parent: string, work: (folder: string) => Promise<T>): Promise<T> {
  await mkdir(parent, { recursive: true });
  const folder = await mkdtemp(join(parent, "tourney-"));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
