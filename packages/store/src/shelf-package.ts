import { existsSync } from "node:fs";
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { TourneyError } from "@tourney/core/errors";
import { rcompare } from "semver";
import * as z from "zod";
import { runNpm } from "./run-npm.js";
import { writeModules } from "./shelf-modules.js";

/** A package's name with a version or a range of them: nothing that leads npm anywhere but to its registry. */
const SPEC = /^((?:@[a-z0-9][\w.-]*\/)?[a-z0-9][\w.-]*)(?:@([\w.^~<>=*-]+))?$/i;
const ASK_LIMIT_MS = 30_000;
const FETCH_LIMIT_MS = 180_000;
/** Another process that has been fetching a package for longer than this is gone. */
const STALE_MS = FETCH_LIMIT_MS + 60_000;
const LOOK_EVERY_MS = 1000;

/** What was put on the shelf: beside the package, under the name that was asked for. */
const Taken = z.object({
  asked: z.string(),
  name: z.string(),
  version: z.string(),
  integrity: z
    .string()
    .nullable()
    .describe("The digest that the registry gives, against which npm checks what it fetches."),
  bytes: z.int().describe("With what it needs."),
  takenAt: z.string(),
});
export type Taken = z.infer<typeof Taken>;

export interface SizeLimits {
  /** Of the package alone, as the registry says. */
  packageBytes: number;
  /** With all that it needs. */
  wholeBytes: number;
}

/** Who adds a library by name knows what it is. */
const WIDE: SizeLimits = { packageBytes: 400e6, wholeBytes: 1000e6 };

/** The folder of a package on the shelf, by what was asked for. */
export const folderOf = (shelf: string, spec: string): string => join(shelf, spec.replaceAll("/", "+"));

/**
 * Fetches a package with what it needs from the npm registry: files only, none of their scripts are run. Two that ask for the same at a
 * time get one.
 *
 * @param spec as in three@0.160
 * @returns null when it is there already.
 * @throws TourneyError INVALID_INPUT for what is no package's name, NOT_FOUND, TOO_LARGE, or ENDPOINT_UNREACHABLE.
 */
export async function addPackage(shelf: string, spec: string, limits: SizeLimits = WIDE): Promise<Taken | null> {
  if (!SPEC.test(spec)) {
    throw new TourneyError("INVALID_INPUT", {
      message: `"${spec}" is no package name.`,
      reason: `"${spec}" is no name of an npm package`,
      remedy: "Give a name and, if wanted, a version, as in three@0.160.",
    });
  }
  const folder = folderOf(shelf, spec);
  if (existsSync(folder)) return null;
  const making = `${folder}.making`;
  await mkdir(shelf, { recursive: true });
  if (!(await claim(making))) {
    await waitFor(folder, making);
    return null;
  }
  try {
    const found = await ask(spec, making);
    if ((found.dist?.unpackedSize ?? 0) > limits.packageBytes) throw refuse(spec, found.dist!.unpackedSize!);
    await fetchInto(making, spec, found);
    const bytes = await measureFolder(making);
    if (bytes > limits.wholeBytes) throw refuse(spec, bytes);
    await writeModules(join(making, "node_modules"));
    const { name, version, dist } = found;
    const taken = {
      asked: spec,
      name,
      version,
      integrity: dist?.integrity ?? null,
      bytes,
      takenAt: new Date().toISOString(),
    };
    await writeFile(join(making, "taken.json"), `${JSON.stringify(taken, null, 2)}\n`);
    // It appears under its name only when it is whole.
    await rename(making, folder);
    return taken;
  } finally {
    await rm(making, { recursive: true, force: true });
  }
}

/** Whether the folder is ours to fill. */
async function claim(making: string): Promise<boolean> {
  const begun = await stat(making).catch(() => null);
  if (begun !== null && Date.now() - begun.mtimeMs > STALE_MS) await rm(making, { recursive: true, force: true });
  return mkdir(making).then(
    () => true,
    () => false,
  );
}

/** Another is fetching it. */
async function waitFor(folder: string, making: string): Promise<void> {
  for (let waitedMs = 0; waitedMs < STALE_MS && existsSync(making) && !existsSync(folder); waitedMs += LOOK_EVERY_MS)
    await sleep(LOOK_EVERY_MS);
}

const Offered = z.object({
  name: z.string(),
  version: z.string(),
  dist: z.object({ integrity: z.string().optional(), unpackedSize: z.number().optional() }).optional(),
});
type Offered = z.infer<typeof Offered>;

/** What the registry would give: of several versions the newest. */
async function ask(spec: string, cwd: string): Promise<Offered> {
  const args = ["view", spec, "name", "version", "dist", "--json", ...atOnce(cwd)];
  const { code, stdout, stderr } = await runNpm(args, { cwd, limitMs: ASK_LIMIT_MS });
  if (code !== 0) throw fail(spec, stderr);
  const answer = z.union([Offered, z.array(Offered)]).safeParse(parse(stdout));
  const offered = answer.success ? [answer.data].flat().toSorted((a, b) => rcompare(a.version, b.version)) : [];
  if (offered[0] === undefined) throw fail(spec, "npm error no version of it matches");
  return offered[0];
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

async function fetchInto(making: string, spec: string, { name, version }: Offered): Promise<void> {
  await writeFile(join(making, "package.json"), '{ "private": true }\n');
  const flags = ["--ignore-scripts", "--omit=dev", "--no-audit", "--no-fund", "--no-package-lock", ...atOnce(making)];
  const { code, stderr } = await runNpm(["install", ...flags, `${name}@${version}`], {
    cwd: making,
    limitMs: FETCH_LIMIT_MS,
  });
  await rm(join(making, ".npm"), { recursive: true, force: true });
  if (code !== 0) throw fail(spec, stderr);
}

/** It has a cache of its own, which goes with it, and does not try for minutes where there is no connection. */
const atOnce = (folder: string): string[] => [
  "--cache",
  join(folder, ".npm"),
  "--fetch-retries=1",
  "--fetch-retry-mintimeout=1000",
  "--fetch-retry-maxtimeout=2000",
  "--fetch-timeout=20000",
];

/** NOT_FOUND where the registry says that there is none, ENDPOINT_UNREACHABLE where it says nothing. */
const fail = (spec: string, stderr: string): TourneyError =>
  new TourneyError(/E404|ETARGET|EINVALIDTAGNAME|no version/i.test(stderr) ? "NOT_FOUND" : "ENDPOINT_UNREACHABLE", {
    message: `${spec} could not be fetched.`,
    reason:
      stderr.split("\n").find((line) => /npm error/.test(line) && !/code/.test(line)) ?? "npm did not end in time",
    remedy: "Check the name and the connection to the npm registry.",
  });

const refuse = (spec: string, bytes: number): TourneyError =>
  new TourneyError("TOO_LARGE", {
    message: `${spec} is too large for the shelf.`,
    reason: `${spec} takes ${Math.round(bytes / 1e6)} MB`,
    remedy: "Add it by name with `./tourney shelf add`, which allows more, or do without it.",
  });

async function measureFolder(folder: string): Promise<number> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  let bytes = 0;
  for (const entry of entries) if (entry.isFile()) bytes += (await stat(join(entry.parentPath, entry.name))).size;
  return bytes;
}

/** What was put on the shelf, as far as it was noted down. */
export async function listTaken(shelf: string): Promise<Taken[]> {
  const groups = await readdir(shelf).catch(() => []);
  const read = groups.map(async (group) => {
    const text = await readFile(join(shelf, group, "taken.json"), "utf8").catch(() => null);
    return text === null ? null : (Taken.safeParse(parse(text)).data ?? null);
  });
  return (await Promise.all(read)).filter((taken) => taken !== null);
}
