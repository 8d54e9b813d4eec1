import { type Recording, RecordingPlan } from "@tourney/core/contract";
import { openShelf } from "@tourney/store";
import type * as z from "zod";
import { type RenderDeps, renderEntry } from "../src/recording/render-entry.js";

/** What the recorder is given where no test says otherwise: a small window, two seconds, nothing of any shelf. */
const PLAN = {
  viewport: { width: 480, height: 300 },
  seconds: 2,
  frames: 5,
  seed: 1,
  motionExpected: false,
  walkthrough: [],
};

/**
 * Records a page, or a page of several files whose first one is opened. Its pictures are thrown away: what they are called stands
 * for them, and their hashes stay.
 */
export function recordForTest(
  page: string | Buffer | Record<string, string | Buffer>,
  plan: Partial<z.input<typeof RecordingPlan>> = {},
  deps: Partial<RenderDeps> = {},
): Promise<Recording> {
  const files = typeof page === "string" || Buffer.isBuffer(page) ? { "index.html": page } : page;
  const map = new Map(Object.entries(files).map(([path, content]) => [path, Buffer.from(content as string)]));
  const [first] = map.keys();
  return renderEntry(map, first!, RecordingPlan.parse({ ...PLAN, ...plan }), {
    browserPath: process.env["TOURNEY_BROWSER"],
    errors: () => undefined,
    shelf: openShelf("/no/such/shelf"),
    keep: (_webp, hint) => Promise.resolve(`${hint}.webp`),
    ...deps,
  });
}
