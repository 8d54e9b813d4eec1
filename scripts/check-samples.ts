import { isDeepStrictEqual } from "node:util";
import { openShelf } from "@tourney/store";
import { SHELF_DIR } from "../packages/cli/src/paths.js";
import {
  type Expected,
  listSamples,
  readSampleList,
  recordSample,
  writeSampleList,
} from "../packages/render-worker/test-support/samples.js";

/**
 * Records every sample of the demo's made-up models and compares what that shows with its place in the list, `exhibits/samples.yaml`.
 * Prints one JSON line and ends with 1 when one differs. `--write` writes the list. The libraries have to be on the shelf
 * (`./tourney shelf add`).
 */
const LANES = 2;
const shelf = openShelf(SHELF_DIR);
const samples = listSamples();
const found: Record<string, Record<string, Expected>> = {};
const queue = [...samples];
await Promise.all(
  Array.from({ length: LANES }, async () => {
    for (let sample = queue.shift(); sample; sample = queue.shift())
      (found[sample.prompt] ??= {})[sample.page] = await recordSample(sample, shelf);
  }),
);
if (process.argv.includes("--write")) {
  const sorted = Object.fromEntries(
    samples.map(({ prompt }) => [
      prompt,
      Object.fromEntries(samples.filter((s) => s.prompt === prompt).map(({ page }) => [page, found[prompt]![page]!])),
    ]),
  );
  writeSampleList(sorted);
}
const list = readSampleList();
const differing = samples
  .filter(({ prompt, page }) => !isDeepStrictEqual(list[prompt]?.[page], found[prompt]![page]))
  .map(({ prompt, page }) => ({
    sample: `${prompt}/${page}`,
    expected: list[prompt]?.[page],
    found: found[prompt]![page],
  }));
console.log(
  JSON.stringify({ bench: "samples", samples: samples.length, right: samples.length - differing.length, differing }),
);
process.exit(differing.length === 0 ? 0 : 1);
