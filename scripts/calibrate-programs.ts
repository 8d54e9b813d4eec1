import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { FindingRule, Recording } from "@tourney/core/contract";
import { JUDGED, PROGRAMS } from "../packages/render-worker/calibration/programs.js";
import { recordProgram } from "../packages/render-worker/calibration/record-program.js";

/**
 * Records programs by others, fetched from the npm registry, and counts rule by rule what was found of what a person says is wrong with
 * them, and what was found besides. Writes the second table of docs/findings.md; `--only WORD` records some and writes nothing.
 */
const LANES = 2;
const ROOT = join(import.meta.dirname, "..");
const FOLDER = join(ROOT, ".tourney", "programs");
const HEADING = "## On programs by others";
const only = process.argv.includes("--only") ? process.argv[process.argv.indexOf("--only") + 1] : undefined;

/** What counts against a page: not what follows from what is missing here, and not a key that was tried on the off chance. */
const listFound = ({ findings }: Recording): FindingRule[] =>
  findings
    .filter(
      ({ rule, severity, followsFrom }) => followsFrom === null && !(rule === "dead_control" && severity === "note"),
    )
    .map(({ rule }) => rule);

const counts = new Map(JUDGED.map((rule) => [rule, { found: 0, missed: 0, false: 0 }]));
const notes: string[] = [];
const seconds: number[] = [];
const queue = PROGRAMS.filter(({ library, path }) => only === undefined || `${library} ${path}`.includes(only));
const total = queue.length;
async function lane(): Promise<void> {
  for (let program = queue.shift(); program; program = queue.shift()) {
    const { library, path, wrong } = program;
    const recording = await recordProgram(FOLDER, program, (_webp, hint) => Promise.resolve(hint));
    seconds.push(recording.metrics.wallMs / 1000);
    const found = new Set(listFound(recording));
    for (const rule of JUDGED) {
      const count = counts.get(rule)!;
      if (wrong.includes(rule)) count[found.has(rule) ? "found" : "missed"]++;
      else if (found.has(rule)) count.false++;
      else continue;
      if (wrong.includes(rule) !== found.has(rule))
        notes.push(`${wrong.includes(rule) ? "missed" : "false"}: ${rule} on ${library} ${path}`);
    }
  }
}
await Promise.all(Array.from({ length: LANES }, lane));

const share = (part: number, whole: number) => (whole === 0 ? "–" : `${Math.round((part / whole) * 100)} %`);
const rows = JUDGED.map((rule) => ({ rule, ...counts.get(rule)! }));
const table = [
  "| rule | found | missed | false | precision | recall |",
  "|---|---|---|---|---|---|",
  ...rows
    .filter((row) => row.found + row.missed + row.false > 0)
    .map(
      (row) =>
        `| ${row.rule} | ${row.found} | ${row.missed} | ${row.false} | ${share(row.found, row.found + row.false)} | ${share(row.found, row.found + row.missed)} |`,
    ),
].join("\n");
const silent = rows.filter((row) => row.found + row.missed + row.false === 0).map(({ rule }) => rule);
const libraries = [...new Set(PROGRAMS.map(({ library }) => library))];
const section = `${HEADING}

${total} examples that came with general, permissively licensed libraries (${libraries.join(", ")}), recorded without a shelf and
labelled by looking at them (\`packages/render-worker/calibration/programs.ts\`, \`npm run calibrate:programs\`). What follows from a missing library is not counted, and
neither is a key that was tried on the off chance. Who labelled them had seen what was found, and one rule was mended for what it got wrong
here: a page that follows the pointer, or only listens for a click, was said to be dead.

${table}

Nothing to find and nothing found: ${silent.join(", ")}.

${notes
  .toSorted()
  .map((note) => `- ${note}`)
  .join("\n")}
`;
console.log(table);
for (const note of notes) console.error(note);
const sorted = seconds.toSorted((a, b) => a - b);
console.log(
  JSON.stringify({ programs: total, medianSeconds: sorted[Math.floor(total / 2)], mostSeconds: sorted.at(-1) }),
);
if (only === undefined) {
  const path = join(ROOT, "docs", "findings.md");
  const [before] = readFileSync(path, "utf8").split(HEADING);
  writeFileSync(path, `${before!.trimEnd()}\n\n${section}`);
}
process.exit();
