import { existsSync } from "node:fs";
import { readdir, readFile, stat } from "node:fs/promises";
import { join, relative } from "node:path";
import type { Kind, Recording } from "@tourney/core/contract";
import { addPackage, folderOf, openShelf } from "@tourney/store";
import { renderEntry, type RenderDeps } from "../src/recording/render-entry.js";
import { RecordingPlan } from "@tourney/core/contract";

/** An example that somebody wrote for a general library, as it lies in the library's package. */
export interface Program {
  /** As in cannon@0.6.2. */
  library: string;
  path: string;
  kind: Kind;
}

/** A file that is larger is no part of a page: it is left out, and so is what is beyond the whole's bounds. */
const MOST_FILE_BYTES = 8e6;
const MOST_WHOLE_BYTES = 150e6;
const loaded = new Map<string, Promise<Map<string, Buffer>>>();

/** All files of a library's package, fetched from the npm registry where they are not there. */
function loadFiles(folder: string, library: string): Promise<Map<string, Buffer>> {
  const known = loaded.get(library);
  if (known) return known;
  const loading = (async () => {
    if (!existsSync(folderOf(folder, library))) await addPackage(folder, library);
    const name = library.replace(/(?<=.)@[^/@]*$/, "");
    const own = join(folderOf(folder, library), "node_modules", name);
    const files = new Map<string, Buffer>();
    let bytes = 0;
    for (const entry of await readdir(own, { recursive: true, withFileTypes: true })) {
      const path = join(entry.parentPath, entry.name);
      if (!entry.isFile() || (await stat(path)).size > MOST_FILE_BYTES || bytes > MOST_WHOLE_BYTES) continue;
      const content = await readFile(path);
      bytes += content.length;
      files.set(relative(own, path), content);
    }
    return files;
  })();
  loaded.set(library, loading);
  return loading;
}

/** Records a program as an entry would be. No library is lent to it: what the shelf of a machine has is not to decide. */
export async function recordProgram(
  folder: string,
  { library, path, kind }: Program,
  keep: RenderDeps["keep"],
): Promise<Recording> {
  const plan = RecordingPlan.parse({
    viewport: { width: 1280, height: 800 },
    seconds: 6,
    frames: 12,
    seed: 1,
    motionExpected: kind === "game" || kind === "animation",
    kind,
    walkthrough: [],
    repeatFlagged: true,
  });
  return renderEntry(await loadFiles(folder, library), path, plan, {
    browserPath: process.env["TOURNEY_BROWSER"],
    errors: () => undefined,
    shelf: openShelf("/no/such/shelf"),
    keep,
  });
}
