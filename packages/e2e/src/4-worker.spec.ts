import { join } from "node:path";
import { rateFile } from "@tourney/core/rate-file";
import { createRandom } from "@tourney/core/random";
import { drawOutcome } from "@tourney/core/ratings";
import { expect, test } from "@playwright/test";
import { build } from "vite";

const ENTRY = join(import.meta.dirname, "rate-in-a-worker.js");

/** The core's rating of files as the one script of a web worker. */
async function bundleForWorker(): Promise<string> {
  const bundled = await build({
    configFile: false,
    logLevel: "error",
    plugins: [
      {
        name: "entry",
        resolveId: (id) => (id === ENTRY ? ENTRY : null),
        load: (id) =>
          id === ENTRY
            ? `import { rateFile } from "@tourney/core/rate-file";
               self.onmessage = ({ data }) => self.postMessage(rateFile(data).report);`
            : null,
      },
    ],
    build: { write: false, rolldownOptions: { input: ENTRY, output: { format: "iife" } } },
  });
  const [first] = [bundled].flat();
  if (!first || !("output" in first)) throw new Error("Nothing was bundled");
  return first.output[0].code;
}

function drawBallots(count: number) {
  const random = createRandom(3);
  const whole = (most: number) => Math.floor(random() * most);
  const ballots = Array.from({ length: count }, () => {
    const left = whole(6);
    const right = (left + 1 + whole(5)) % 6;
    return {
      voter: whole(12),
      prompt: whole(9),
      left,
      right,
      outcome: drawOutcome(random, 5, (right - left) / 5, [0.4, 1.5]),
    };
  });
  const column = (name: keyof (typeof ballots)[number]) => ballots.map((ballot) => ballot[name]);
  return {
    voter: column("voter"),
    prompt: column("prompt"),
    left: column("left"),
    right: column("right"),
    outcome: column("outcome"),
  };
}

/** The same but for the last digits of numbers, in which the logarithms of two engines may differ. */
function expectAlike(actual: unknown, expected: unknown): void {
  if (typeof expected === "number") {
    expect(Math.abs((actual as number) - expected)).toBeLessThan(1e-9 * (1 + Math.abs(expected)));
  } else if (typeof expected === "object" && expected !== null) {
    expect(Object.keys(actual as object)).toEqual(Object.keys(expected));
    for (const [key, value] of Object.entries(expected)) expectAlike((actual as Record<string, unknown>)[key], value);
  } else {
    expect(actual).toEqual(expected);
  }
}

test("ballots are rated in a web worker as they are on the server", async ({ page }) => {
  const input = { entrants: ["a", "b", "c", "d", "e", "f"], K: 5, ballots: drawBallots(600) };
  const files = [
    { type: "fit", input, options: { ridge: 0.1, side: true, ridgeSide: 0.1 } },
    { type: "diagnostics", input, options: { ridge: 0.1, side: true, ridgeSide: 0.1 } },
  ];
  const code = await bundleForWorker();
  await page.goto("about:blank");
  const inWorker = await page.evaluate(
    async ({ code, files }) => {
      const worker = new Worker(URL.createObjectURL(new Blob([code], { type: "text/javascript" })));
      const reports: unknown[] = [];
      for (const file of files) {
        reports.push(
          await new Promise((resolve, reject) => {
            worker.onmessage = ({ data }) => resolve(data);
            worker.onerror = ({ message }) => reject(new Error(message));
            worker.postMessage(file);
          }),
        );
      }
      return reports;
    },
    { code, files },
  );
  expectAlike(inWorker, JSON.parse(JSON.stringify(files.map((file) => rateFile(file).report))));
});
