import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { RULE_WORDS } from "@tourney/core/page";
import type { LabelledPage } from "../packages/render-worker/calibration/build.js";
import { LABELLED } from "../packages/render-worker/calibration/pages.js";
import { recordForTest } from "../packages/render-worker/test-support/record-for-test.js";

/**
 * Records every page of the labelled set and counts, rule by rule, on how many it found what it should and nothing where it
 * should not. Writes the confusion table into docs/findings.md; `--only RULE` prints one rule and writes nothing.
 */
const LANES = 2;
const only = process.argv.includes("--only") ? process.argv[process.argv.indexOf("--only") + 1] : undefined;

const INTRO = `Each rule was tried on pages made for it (\`packages/render-worker/calibration/pages.ts\`): some on which it should find something,
and some that come near and on which it should not. The rules were also mended on this set, so expect less on pages that nobody chose.`;

interface Task {
  rule: string;
  isBad: boolean;
  index: number;
  labelled: LabelledPage;
}
interface Count {
  found: number;
  missed: number;
  quiet: number;
  false: number;
}

const PLAN = { viewport: { width: 800, height: 600 }, seconds: 4, frames: 8 };

async function record({ page, plan }: LabelledPage): Promise<string[]> {
  const recording = await recordForTest(page, { ...PLAN, ...plan }, { frameLimitMs: 5000 });
  return recording.findings.map(({ rule, severity, message }) => `${rule}|${severity}|${message}`);
}

const tasks: Task[] = LABELLED.filter(({ rule }) => only === undefined || rule === only).flatMap(
  ({ rule, bad, good }) => [
    ...bad.map((labelled, index) => ({ rule, isBad: true, index, labelled })),
    ...good.map((labelled, index) => ({ rule, isBad: false, index, labelled })),
  ],
);
const counts = new Map<string, Count>();
const queue = [...tasks];
async function lane(): Promise<void> {
  for (let task = queue.shift(); task; task = queue.shift()) {
    const { rule, isBad, index, labelled } = task;
    const found = await record(labelled);
    const isThere = found.some((text) => text.startsWith(`${rule}|`));
    const count = counts.get(rule) ?? { found: 0, missed: 0, quiet: 0, false: 0 };
    count[isBad ? (isThere ? "found" : "missed") : isThere ? "false" : "quiet"]++;
    counts.set(rule, count);
    if (isThere !== isBad)
      console.error(`${rule}: ${isBad ? "missed on bad" : "false on good"} page ${index + 1}: ${found.join("; ")}`);
  }
}
await Promise.all(Array.from({ length: LANES }, lane));

const rows = LABELLED.flatMap(({ rule }) => {
  const count = counts.get(rule);
  return count ? [{ rule, ...count }] : [];
});
const right = rows.reduce((sum, row) => sum + row.found + row.quiet, 0);
const share = right / tasks.length;
const table = [
  "| rule | bad pages: found | missed | good pages: quiet | false |",
  "|---|---|---|---|---|",
  ...rows.map((row) => `| ${row.rule} | ${row.found} | ${row.missed} | ${row.quiet} | ${row.false} |`),
  "",
  `${right} of ${tasks.length} right (${(share * 100).toFixed(1)} %).`,
].join("\n");
console.log(table);
if (only === undefined) {
  const path = join(import.meta.dirname, "..", "docs", "findings.md");
  // The other set is counted by a script of its own.
  const [, others = ""] = readFileSync(path, "utf8").split("## On programs by others");
  const rest = others === "" ? "" : `\n## On programs by others${others}`;
  writeFileSync(path, `${describeRules()}\n## How often they are right\n\n${INTRO}\n\n${table}\n${rest}`);
  console.log(JSON.stringify({ right, pages: tasks.length, share }));
}

function describeRules(): string {
  const sections = Object.entries(RULE_WORDS).map(
    ([rule, { word, meaning, method, canErr }]) =>
      `### ${rule}: ${word}\n\n${meaning}\n\n- How it is found: ${method}\n- How it can err: ${canErr}\n`,
  );
  return `# Findings\n\nWhat a recording notices by itself. Every rule is a pure function in \`packages/core/src/page\` over what was gathered, and has a\nversion of its own, stored with each finding. This page is written by \`npm run calibrate\`.\n\n${sections.join("\n")}`;
}
