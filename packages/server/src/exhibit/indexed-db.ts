import { createRequire } from "node:module";
import { dirname } from "node:path";
import { build } from "esbuild";

const require = createRequire(import.meta.url);

let script: Promise<string> | null = null;

/**
 * A script that puts an IndexedDB in memory in the place of the browser's own, which a frame without an origin may not open. It is made once,
 * and is large for what most pages need: only pages that `asksForIndexedDb` are given it.
 */
export function makeIndexedDb(): Promise<string> {
  script ??= build({
    stdin: { contents: 'import "fake-indexeddb/auto";', resolveDir: dirname(require.resolve("fake-indexeddb")) },
    bundle: true,
    write: false,
    format: "iife",
    platform: "browser",
    minify: true,
    legalComments: "none",
    logLevel: "silent",
  }).then(({ outputFiles }) => outputFiles[0]!.text.replaceAll("</script", "<\\/script"));
  return script;
}

/** Whether any of a page's texts uses it, itself or by one of the libraries that are made of it. */
export const asksForIndexedDb = (texts: readonly string[]): boolean =>
  texts.some((text) => /indexedDB|\bdexie\b|\blocalforage\b|\bidb(?:-keyval)?\b|\bpouchdb\b/i.test(text));
