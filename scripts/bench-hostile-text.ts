import { extractArtifact } from "@tourney/core/extraction";
import { HOSTILE_NAMES, HOSTILE_SHAPES } from "../packages/core/test-support/hostile-text.js";

/**
 * Reads answers of the longest length, each of a shape that is bad for some reader, and prints one JSON line: seconds of processor for the slowest and its shape, the sum,
 * and the most memory that the process held. Goal: 2 s, 500 MB.
 */
const LENGTH = 4 * 1024 * 1024;

let [slowest, shape, sum] = [0, "", 0];
for (const { name, make } of HOSTILE_SHAPES) {
  const text = make(LENGTH);
  const before = process.cpuUsage();
  extractArtifact(text, { stopReason: "stop", names: HOSTILE_NAMES });
  const { user, system } = process.cpuUsage(before);
  const seconds = (user + system) / 1e6;
  sum += seconds;
  if (seconds > slowest) [slowest, shape] = [seconds, name];
  if (process.argv.includes("--all")) process.stderr.write(`${seconds.toFixed(2)} s  ${name}\n`);
}
const result = {
  bench: "hostile-text",
  ...{ megabytes: LENGTH / 1024 / 1024, shapes: HOSTILE_SHAPES.length },
  ...{
    slowestSeconds: Number(slowest.toFixed(2)),
    slowest: shape,
    meanSeconds: Number((sum / HOSTILE_SHAPES.length).toFixed(2)),
  },
  peakMb: Math.round(process.resourceUsage().maxRSS / 1024),
};
process.stdout.write(`${JSON.stringify(result)}\n`);
