import { mkdir, readdir, readFile, stat, writeFile } from "node:fs/promises";
import { basename, join, relative } from "node:path";
import { readChord, type Recording, RecordingPlan } from "@tourney/core/contract";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import { createIntake, type Intake, openShelf, ShelfIntake } from "@tourney/store";
import { Command } from "commander";
import { parse as parseYaml } from "yaml";
import type { FileMap } from "./recording/serve-page.js";
import { printPage } from "./browser/print-page.js";
import { renderEntry } from "./recording/render-entry.js";

const MOST_FILES = 200;

interface Flags {
  out: string;
  viewport: string;
  seconds: string;
  frames: string;
  seed: string;
  repeat: string;
  kind?: string;
  motion: boolean;
  realTime: boolean;
  stress: boolean;
  walkthrough?: string;
  shelf: string;
  intake: boolean;
  failOn?: string;
  pdf?: string;
  json?: boolean;
}

/** What a caller's script can tell the outcomes apart by. */
const EXIT_CODES: Record<Recording["outcome"], number> = {
  ok: 0,
  failed: 1,
  crashed: 3,
  hung: 4,
  memory: 5,
  navigated: 6,
};
const FINDINGS_EXIT_CODE = 7;

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

async function makeFolder(path: string): Promise<void> {
  try {
    await mkdir(path, { recursive: true });
  } catch (cause) {
    // A full disk is told of as everywhere.
    if (["ENOSPC", "EDQUOT"].includes((cause as NodeJS.ErrnoException).code ?? "")) throw cause;
    throw new TourneyError("INVALID_INPUT", {
      message: `The folder ${path} cannot be made.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give another one by --out.",
      cause,
    });
  }
}

async function readWalkthrough(path: string | undefined): Promise<unknown> {
  if (path === undefined) return [];
  try {
    return parseYaml(await readFile(path, "utf8")) as unknown;
  } catch (cause) {
    throw new TourneyError("INVALID_FILE", {
      message: `The walkthrough ${path} cannot be read.`,
      reason: cause instanceof Error ? cause.message.split("\n")[0]! : String(cause),
      remedy: 'Give a JSON or YAML list of inputs, as in [{"atMs": 700, "key": "ArrowRight", "holdMs": 300}].',
      cause,
    });
  }
}

async function readPlan(flags: Flags): Promise<RecordingPlan> {
  const [width, height] = flags.viewport.split("x").map(Number);
  const plan = RecordingPlan.safeParse({
    viewport: { width, height },
    seconds: Number(flags.seconds),
    frames: Number(flags.frames),
    seed: Number(flags.seed),
    kind: flags.kind ?? null,
    motionExpected: flags.motion,
    walkthrough: await readWalkthrough(flags.walkthrough),
    repeats: Number(flags.repeat),
    realTime: flags.realTime,
    stress: flags.stress,
  });
  if (plan.success) return refuseUnknownKeys(plan.data);
  const issue = plan.error.issues[0]!;
  throw new TourneyError("INVALID_INPUT", {
    message: `The recording's ${issue.path.join(".")} cannot be used: ${issue.message}.`,
    reason: "Viewport, seconds, frames, seed, repeats and inputs have limits.",
    remedy:
      "Give --viewport 1280x800, --seconds 1 to 60, --frames 2 to 120, --repeat 1 to 20, --kind game, animation, drawing or app.",
  });
}

function refuseUnknownKeys(plan: RecordingPlan): RecordingPlan {
  const unknown = plan.walkthrough.flatMap((step) => ("key" in step && readChord(step.key) === null ? [step.key] : []));
  if (unknown.length === 0) return plan;
  throw new TourneyError("INVALID_INPUT", {
    message: `The walkthrough presses keys that there are not: ${unknown.map((name) => JSON.stringify(name)).join(", ")}.`,
    reason: "A page would be blamed for what no keyboard sends.",
    remedy: "Call keys as pages are told of them, as in ArrowRight, Space, Delete, a, ? or Control+z.",
  });
}

/** As everywhere else, the environment can switch it off. */
const openIntake = (folder: string): Intake | null =>
  ShelfIntake.parse(process.env["TOURNEY_SHELF_INTAKE"]) === "off"
    ? null
    : createIntake({
        folder,
        tell: (event) =>
          console.error(
            "taken" in event
              ? `Put ${event.taken.name} ${event.taken.version} on the shelf.`
              : `${event.refused} is not on the shelf: ${event.reason}`,
          ),
      });

/** Prints a page instead of recording it. */
async function print(path: string, out: string): Promise<void> {
  const { files, entryPath } = await readEntry(path);
  const page = files.get(entryPath)!.toString("utf8");
  const pdf = await printPage(page, { browserPath: process.env["TOURNEY_BROWSER"], errors: () => undefined });
  await writeFile(out, pdf, { flag: "wx" }).catch((cause: unknown) => {
    throw new TourneyError("CONFLICT", {
      message: `${out} could not be written.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give the path of a file that is not there yet, in a folder that is, on a disk with room.",
      cause,
    });
  });
}

async function render(path: string, flags: Flags): Promise<void> {
  if (flags.pdf !== undefined) return print(path, flags.pdf);
  const { files, entryPath } = await readEntry(path);
  const plan = await readPlan(flags);
  await makeFolder(flags.out);
  const recording = await renderEntry(files, entryPath, plan, {
    browserPath: process.env["TOURNEY_BROWSER"],
    errors: () => undefined,
    shelf: openShelf(flags.shelf, flags.intake ? openIntake(flags.shelf) : null),
    keep: async (webp, hint) => {
      await writeFile(join(flags.out, `${hint}.webp`), webp);
      return `${hint}.webp`;
    },
  });
  const report = { ...recording, stable: recording.stability?.isStable ?? null };
  await writeFile(join(flags.out, "recording.json"), `${JSON.stringify(report, null, 2)}\n`);
  if (flags.json) console.log(JSON.stringify(report));
  else sayInWords(recording, flags.out);
  process.exitCode = EXIT_CODES[recording.outcome];
  const failing = { error: ["error"], warning: ["error", "warning"] }[flags.failOn ?? ""] ?? [];
  if (process.exitCode === 0 && recording.findings.some(({ severity }) => failing.includes(severity)))
    process.exitCode = FINDINGS_EXIT_CODE;
}

function sayInWords(recording: Recording, out: string): void {
  const { outcome, outcomeDetail, frames, seconds, metrics, stability, findings, substitutions } = recording;
  console.log(
    `${outcome}${outcomeDetail === null ? "" : ` (${outcomeDetail})`}: ${frames.length} frames over ${seconds} s in ${metrics.wallMs} ms, in ${out}`,
  );
  if (stability !== null)
    console.log(
      stability.isStable
        ? `The same to the byte in ${stability.recordings} recordings.`
        : `Not the same in ${stability.recordings} recordings: ${stability.differing.join(", ")}.`,
    );
  for (const line of new Set(
    substitutions.map(({ asked, served }) => `Asked for ${asked}, got ${served} from the shelf.`),
  ))
    console.log(line);
  for (const { severity, message, evidence } of findings) console.log(`${severity}: ${message} (${evidence})`);
}

/** Beside the data of the instances; `./tourney` says where. */
const DEFAULT_SHELF = process.env["TOURNEY_SHELF_DIR"] ?? join(process.cwd(), ".tourney", "shelf");

const program = new Command("tourney render")
  .description("Record a page headlessly: frames over time, console, exceptions, findings.")
  .argument("<path>", "an HTML or SVG file, or a folder with index.html")
  .option("--out <dir>", "folder for the pictures and recording.json", "recording")
  .option("--viewport <size>", "CSS pixels", "1280x800")
  .option("--seconds <n>", "page time to record", "6")
  .option("--frames <n>", "pictures to take", "12")
  .option("--seed <n>", "of the page's random numbers", "1")
  .option("--repeat <n>", "record it that often and compare, to the byte", "1")
  .option("--kind <kind>", "game, animation, drawing or app: tries its usual inputs where no walkthrough is given")
  .option("--motion", "report it when nothing moves", false)
  .option("--real-time", "also measure the frame rate on this machine's own clock", false)
  .option("--stress", "also turn its load up, and leave it alone for minutes of page time", false)
  .option("--walkthrough <file>", "JSON or YAML list of timed inputs")
  .option("--shelf <dir>", "libraries that stand in for public hosts", DEFAULT_SHELF)
  .option("--no-intake", "fetch no library from the npm registry that the shelf lacks")
  .option("--fail-on <severity>", "error or warning: end with code 7 when there is such a finding")
  .option("--pdf <file>", "print it to a PDF instead of recording it")
  .option("--json", "print the recording as JSON")
  .addHelpText(
    "after",
    `
Exit codes
  0  recorded                    4  the page hung
  1  nothing could be recorded   5  it used too much memory
  3  it crashed                  6  it went elsewhere
  7  recorded, with a finding that --fail-on names`,
  )
  .action(render);

program.parseAsync().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exitCode = 1;
});
