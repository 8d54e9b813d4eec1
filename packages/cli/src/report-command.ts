import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { onRunning } from "./instance-commands.js";
import { PROGRAMS } from "./paths.js";
import { passThrough } from "./run-command.js";

/** Where a report goes unless it is said. */
const USUAL_OUT = "report.html";

/** Writes a report as HTML; to a file that ends in .pdf, printed by the headless browser. */
export async function writeReport(flags: { out?: string }, args: readonly string[]): Promise<void> {
  const out = flags.out ?? USUAL_OUT;
  if (!/\.pdf$/i.test(out)) return onRunning("report", [...args, "--out", out]);
  const folder = await mkdtemp(join(tmpdir(), "tourney-report-"));
  try {
    const page = join(folder, "report.html");
    await onRunning("report", [...args, "--out", page, "--quiet"]);
    if (process.exitCode !== undefined && process.exitCode !== 0) return;
    process.exitCode = await passThrough(PROGRAMS.render, [page, "--pdf", out]);
    if (process.exitCode === 0) console.error(`The report is in ${out}.`);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
