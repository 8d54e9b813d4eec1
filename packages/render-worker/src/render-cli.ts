import { mkdir, readdir, readFile, stat, writeFile } from "node:fs/promises";
import { basename, join, relative } from "node:path";
import { RecordingPlan, type WalkthroughStep } from "@tourney/core/contract";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import { Command } from "commander";
import type { FileMap } from "./recording/page-watch.js";
import { renderEntry } from "./recording/render-entry.js";

const MOST_FILES = 200;

interface Flags {
  out: string;
  viewport: string;
  seconds: string;
  frames: string;
  seed: string;
  motion: boolean;
  walkthrough?: string;
  json?: boolean;
}

async function readEntry(path: string): Promise<{ files: FileMap; entryPath: string }> {
  const info = await stat(path).catch((cause: unknown) => {
    throw new TourneyError("NOT_FOUND", {
      message: `${path} cannot be read.`,
      reason: "There is no file or folder of that name.",
      remedy: "Give the path of an HTML or SVG file, or of a folder that holds index.html.",
      cause,
    });
  });
  if (info.isFile()) return { files: new Map([[basename(path), await readFile(path)]]), entryPath: basename(path) };
  const names = await readdir(path, { recursive: true, withFileTypes: true });
  const files = new Map<string, Buffer>();
  for (const name of names.filter((item) => item.isFile()).slice(0, MOST_FILES)) {
    const full = join(name.parentPath, name.name);
    files.set(relative(path, full), await readFile(full));
  }
  const entryPath =
    ["index.html", "index.htm"].find((name) => files.has(name)) ??
    [...files.keys()].find((name) => /\.(html?|svg)$/i.test(name));
  if (entryPath !== undefined) return { files, entryPath };
  throw new TourneyError("INVALID_FILE", {
    message: `${path} holds no page.`,
    reason: "A folder needs an index.html, or another HTML or SVG file.",
    remedy: "Give the file itself, or add index.html.",
  });
}

async function readPlan(flags: Flags): Promise<RecordingPlan> {
  const [width, height] = flags.viewport.split("x").map(Number);
  const walkthrough: WalkthroughStep[] =
    flags.walkthrough === undefined ? [] : (JSON.parse(await readFile(flags.walkthrough, "utf8")) as WalkthroughStep[]);
  const plan = RecordingPlan.safeParse({
    viewport: { width, height },
    seconds: Number(flags.seconds),
    frames: Number(flags.frames),
    seed: Number(flags.seed),
    motionExpected: flags.motion,
    walkthrough,
  });
  if (plan.success) return plan.data;
  const issue = plan.error.issues[0]!;
  throw new TourneyError("INVALID_INPUT", {
    message: `The recording's ${issue.path.join(".")} cannot be used: ${issue.message}.`,
    reason: "Viewport, seconds and frames have limits.",
    remedy: "Give --viewport 1280x800, --seconds 1 to 60, --frames 2 to 120.",
  });
}

async function render(path: string, flags: Flags): Promise<void> {
  const { files, entryPath } = await readEntry(path);
  const plan = await readPlan(flags);
  await mkdir(flags.out, { recursive: true });
  const recording = await renderEntry(files, entryPath, plan, {
    browserPath: process.env["TOURNEY_BROWSER"],
    errors: () => undefined,
    keep: async (webp, hint) => {
      await writeFile(join(flags.out, `${hint}.webp`), webp);
      return `${hint}.webp`;
    },
  });
  await writeFile(join(flags.out, "recording.json"), `${JSON.stringify(recording, null, 2)}\n`);
  if (flags.json) console.log(JSON.stringify(recording));
  else {
    console.log(
      `${recording.outcome}: ${recording.frames.length} frames over ${recording.seconds} s in ${recording.metrics.wallMs} ms, in ${flags.out}`,
    );
    for (const { severity, message, evidence } of recording.findings)
      console.log(`${severity}: ${message} (${evidence})`);
  }
  process.exitCode = recording.outcome === "ok" ? 0 : 3;
}

const program = new Command("tourney render")
  .description("Record a page headlessly: frames over time, console, exceptions, findings.")
  .argument("<path>", "an HTML or SVG file, or a folder with index.html")
  .requiredOption("--out <dir>", "folder for the frames and recording.json")
  .option("--viewport <size>", "CSS pixels", "1280x800")
  .option("--seconds <n>", "page time to record", "6")
  .option("--frames <n>", "pictures to take", "12")
  .option("--seed <n>", "of the page's random numbers", "1")
  .option("--motion", "report it when nothing moves", false)
  .option("--walkthrough <file>", "JSON list of timed inputs")
  .option("--json", "print the recording as JSON")
  .addHelpText(
    "after",
    "\nExit codes: 0 recorded, 3 the page crashed, hung or went elsewhere, 1 nothing could be recorded.",
  )
  .action(render);

program.parseAsync().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exitCode = 1;
});
