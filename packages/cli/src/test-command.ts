import { spawn } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { join, relative } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import * as z from "zod";
import { type DatabaseAddress, dropDatabases, readDatabaseAddress, toVariables } from "@tourney/store";
import { chooseAccount } from "./account.js";
import { openDatabase } from "./database.js";
import { installDebianPackages } from "./debian.js";
import { choosePort, openInstance } from "./instance.js";
import { PROGRAMS, ROOT, STATE_DIR } from "./paths.js";
import { runCommand } from "./run-command.js";
import { say } from "./step.js";
import { startStack } from "./supervisor.js";

interface Tally {
  passed: number;
  failed: number;
  /** What failed, each in a few lines: it is told once more at the end, where the end of a long log is all that is kept. */
  failures?: readonly string[];
}

const REPORTS = join(STATE_DIR, "reports");

/** Each check, in the order of how soon it tells what is wrong. A plain one counts as one test. */
const CHECKS = ["lint", "types", "graph", "unused", "formats", "unit", "integration", "e2e"] as const;
type Check = (typeof CHECKS)[number];

/** Runs an npm script of the repository with this terminal; resolves with its exit code. */
function runScript(script: string, args: readonly string[] = [], env: NodeJS.ProcessEnv = {}): Promise<number> {
  return new Promise((resolve) => {
    const child = spawn("npm", ["run", "--silent", script, "--", ...args], {
      cwd: ROOT,
      stdio: "inherit",
      env: { ...process.env, ...env },
    });
    child.on("close", (code) => resolve(code ?? 1));
  });
}

/** What it prints is shown when it is over: another one may run beside it. */
async function runPlain(check: Check): Promise<Tally> {
  const { code, stdout, stderr } = await runCommand("npm", ["run", "--silent", check], { cwd: ROOT });
  process.stdout.write(stdout + stderr);
  return { passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
}

const VitestReport = z.object({
  numPassedTests: z.int(),
  numFailedTests: z.int(),
  testResults: z.array(
    z.object({
      name: z.string(),
      message: z.string().default(""),
      assertionResults: z.array(
        z.object({ fullName: z.string(), status: z.string(), failureMessages: z.array(z.string()).default([]) }),
      ),
    }),
  ),
});

const LONGEST_FAILURE = 600;

/** The tests that failed and the files that could not be loaded, each with the beginning of its reason. */
function listFailures({ testResults }: z.infer<typeof VitestReport>): string[] {
  return testResults.flatMap((file) => {
    const path = relative(ROOT, file.name);
    const failed = file.assertionResults.filter(({ status }) => status === "failed");
    if (failed.length === 0 && file.message !== "") return [`${path}\n${file.message.slice(0, LONGEST_FAILURE)}`];
    return failed.map(
      ({ fullName, failureMessages }) =>
        `${path}: ${fullName}\n${failureMessages.join("\n").slice(0, LONGEST_FAILURE)}`,
    );
  });
}

async function runVitest(check: "unit" | "integration", env: NodeJS.ProcessEnv = {}): Promise<Tally> {
  const file = join(REPORTS, `${check}.json`);
  rmSync(file, { force: true });
  const code = await runScript(check, ["--reporter=default", "--reporter=json", `--outputFile.json=${file}`], env);
  if (!existsSync(file)) return { passed: 0, failed: 1 };
  const report = VitestReport.parse(JSON.parse(readFileSync(file, "utf8")));
  const { numPassedTests, numFailedTests } = report;
  // A file that cannot even be loaded fails the run without failing a test.
  const failed = numFailedTests === 0 && code !== 0 ? 1 : numFailedTests;
  return { passed: numPassedTests, failed, failures: listFailures(report) };
}

/** The names of all databases of the tests begin so; a server that is not ours is rid of them afterwards. */
const TEST_DATABASES = `tourney_test_${process.pid}_`;

/** The server that the tests make their databases on: the one that the environment names, else one of their own. */
async function withTestServer(name: string, work: (address: DatabaseAddress) => Promise<Tally>): Promise<Tally> {
  const named = readDatabaseAddress(process.env);
  const given = named && { ...named, name: "postgres" };
  const { account } = await chooseAccount();
  const database = await openDatabase(openInstance(name), { given, isThrowaway: true, account });
  try {
    return await work(database.address);
  } finally {
    if (!database.isOwn) await dropDatabases(database.address, TEST_DATABASES);
    await database.stop();
  }
}

const runIntegration = () =>
  withTestServer("test", (address) => {
    const variables = Object.entries({ ...toVariables(address), TOURNEY_DB_NAME: TEST_DATABASES });
    return runVitest(
      "integration",
      Object.fromEntries(variables.map(([name, value]) => [name.replace("TOURNEY_DB_", "TOURNEY_TEST_DB_"), value])),
    );
  });

const PlaywrightReport = z.object({ stats: z.object({ expected: z.int(), unexpected: z.int(), flaky: z.int() }) });

/** The end-to-end tests run against a whole Tourney of their own, started as the demo is. */
function runEndToEnd(): Promise<Tally> {
  rmSync(join(STATE_DIR, "e2e"), { recursive: true, force: true });
  return withTestServer("e2e", runBrowserTests);
}

async function runBrowserTests(server: DatabaseAddress): Promise<Tally> {
  const instance = openInstance("e2e");
  const stack = await startStack({
    instance,
    ports: { app: await choosePort(4700), exhibit: await choosePort(4810), standIn: await choosePort(4920) },
    standIn: { seed: 11, speed: 500, faults: true },
    database: { ...server, name: `${TEST_DATABASES}e2e` },
    // What a test shows does not depend on what a registry has today.
    environment: { TOURNEY_SHELF_INTAKE: "off" },
  });
  const file = join(REPORTS, "e2e.json");
  rmSync(file, { force: true });
  try {
    const { stdout } = await runCommand(process.execPath, [PROGRAMS.admin, "sign-in"], { env: stack.environment });
    const code = await runScript("e2e", [], {
      TOURNEY_E2E_APP: stack.appUrl,
      TOURNEY_E2E_SIGN_IN: stdout.trim(),
      TOURNEY_E2E_ENDPOINT: stack.standInUrl!,
      TOURNEY_E2E_REPORT: file,
    });
    if (!existsSync(file)) return { passed: 0, failed: 1 };
    const { expected, unexpected, flaky } = PlaywrightReport.parse(JSON.parse(readFileSync(file, "utf8"))).stats;
    return { passed: expected, failed: unexpected + flaky === 0 && code !== 0 ? 1 : unexpected + flaky };
  } finally {
    await stack.stop();
  }
}

const RUN: Partial<Record<Check, () => Promise<Tally>>> = {
  unit: () => runVitest("unit"),
  integration: runIntegration,
  e2e: runEndToEnd,
};

function chooseChecks(only: string | undefined): readonly Check[] {
  if (only === undefined) return CHECKS;
  const names = only.split(",").map((name) => name.trim());
  const unknown = names.filter((name) => !(CHECKS as readonly string[]).includes(name));
  if (unknown.length === 0) return CHECKS.filter((check) => names.includes(check));
  throw new TourneyError("INVALID_INPUT", {
    message: `There is no check ${unknown.join(", ")}.`,
    reason: `The checks are ${CHECKS.join(", ")}.`,
    remedy: "Name some of them, separated by commas.",
  });
}

/** Sets up what is missing and runs every check, or those that are named; goes on after a failure, to tell all at once. */
export async function test(flags: { only?: string }): Promise<void> {
  const checks = chooseChecks(flags.only);
  await installDebianPackages();
  mkdirSync(REPORTS, { recursive: true });
  const tallies = new Map<Check, Tally>();
  const runInTurn = async (some: readonly Check[]) => {
    for (const check of some) tallies.set(check, await runCheck(check));
  };
  const plain = checks.filter((check) => RUN[check] === undefined);
  // Lint takes longer than all other plain checks together: it has one core, they have another.
  await Promise.all([runInTurn(plain.filter(isLint)), runInTurn(plain.filter((check) => !isLint(check)))]);
  await runInTurn(checks.filter((check) => RUN[check] !== undefined));

  const all = [...tallies.values()];
  const sumOf = (what: "passed" | "failed") => all.reduce((sum, tally) => sum + tally[what], 0);
  for (const failure of all.flatMap(({ failures = [] }) => failures)) say(`\n✗ ${failure}`);
  const failed = checks.filter((check) => tallies.get(check)!.failed > 0);
  if (failed.length > 0) say(`\nFailed: ${failed.join(", ")}.`);
  console.log(`${sumOf("passed")} passed, ${sumOf("failed")} failed`);
  process.exitCode = failed.length === 0 ? 0 : 1;
}

const isLint = (check: Check): boolean => check === "lint";

async function runCheck(check: Check): Promise<Tally> {
  say(`\n── ${check}`);
  const startedAt = performance.now();
  const tally = await (RUN[check] ?? (() => runPlain(check)))();
  const seconds = Math.round((performance.now() - startedAt) / 1000);
  say(`── ${check}: ${tally.failed === 0 ? "passed" : "FAILED"} (${seconds} s)`);
  return tally;
}
