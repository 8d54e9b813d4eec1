import { execFileSync } from "node:child_process";
import { fileURLToPath } from "node:url";
import { extractArtifact } from "@tourney/core/extraction";
import * as z from "zod";
import { HOSTILE_NAMES, HOSTILE_SHAPES } from "../packages/core/test-support/hostile-text.js";

/**
 * Reads answers of the longest length, each of a shape that is bad for some reader and in a process of its own, as the server does, and prints one JSON line: seconds of
 * processor for the slowest and its shape, their mean, and the most memory that a process held, with its shape. Goal: 2 s, 500 MB.
 *
 * `--all` tells each on stderr; a number reads that shape alone.
 */
const LENGTH = 4 * 1024 * 1024;
const Measured = z.object({ seconds: z.number(), mb: z.number() });

function measure(index: number): z.infer<typeof Measured> {
  const text = HOSTILE_SHAPES[index]!.make(LENGTH);
  const before = process.cpuUsage();
  extractArtifact(text, { stopReason: "stop", names: HOSTILE_NAMES });
  const { user, system } = process.cpuUsage(before);
  return { seconds: (user + system) / 1e6, mb: process.resourceUsage().maxRSS / 1024 };
}

function measureAll(): object {
  const all = HOSTILE_SHAPES.map(({ name }, index) => {
    const said = execFileSync(process.execPath, [...process.execArgv, fileURLToPath(import.meta.url), String(index)]);
    const measured = { name, ...Measured.parse(JSON.parse(said.toString())) };
    if (process.argv.includes("--all"))
      process.stderr.write(`${measured.seconds.toFixed(2)} s  ${Math.round(measured.mb)} MB  ${name}\n`);
    return measured;
  });
  const slowest = all.reduce((a, b) => (b.seconds > a.seconds ? b : a));
  const largest = all.reduce((a, b) => (b.mb > a.mb ? b : a));
  const sum = all.reduce((total, { seconds }) => total + seconds, 0);
  return {
    bench: "hostile-text",
    ...{ megabytes: LENGTH / 1024 / 1024, shapes: all.length },
    ...{ slowestSeconds: Number(slowest.seconds.toFixed(2)), slowest: slowest.name },
    meanSeconds: Number((sum / all.length).toFixed(2)),
    ...{ peakMb: Math.round(largest.mb), largest: largest.name },
  };
}

const only = process.argv.find((word) => /^\d+$/.test(word));
process.stdout.write(`${JSON.stringify(only === undefined ? measureAll() : measure(Number(only)))}\n`);
