import { join } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import { readDatabaseAddress, toVariables } from "@tourney/store";
import { type Account, chooseAccount } from "./account.js";
import { installDebianPackages } from "./debian.js";
import { findRunning } from "./instance-commands.js";
import { openInstance } from "./instance.js";
import { Program } from "./program.js";
import { PROGRAMS } from "./paths.js";
import { say, step } from "./step.js";
import { renderEnvironment } from "./supervisor.js";

interface Flags {
  render?: string;
  generate?: string;
  demo?: boolean;
}

/** A recording with all its clips may take some minutes. */
const DRAIN_LIMIT_MS = 15 * 60_000;
const MOST = 256;

function readCount(text: string | undefined, flag: string): number {
  const count = Number(text ?? 0);
  if (Number.isInteger(count) && count >= 0 && count <= MOST) return count;
  throw new TourneyError("INVALID_INPUT", {
    message: `${flag} ${text ?? ""} cannot be used.`,
    reason: `It says how many jobs to work on at a time, 0 to ${MOST}.`,
    remedy: "Give a whole number, as in `./tourney worker --render 2 --generate 16`.",
  });
}

/** What the programs need: from the environment where it is set, as on another host, else from what runs here. */
async function findEnvironment(
  isDemo: boolean,
): Promise<{ env: NodeJS.ProcessEnv; logDir: string; account: Account | null }> {
  const database = readDatabaseAddress(process.env);
  if (database !== null && process.env["TOURNEY_DATA_DIR"] !== undefined) {
    const env = { ...process.env, DATABASE_URL: undefined, ...toVariables(database) };
    // The folder that hosts share has owners of its own.
    return { env, logDir: openInstance("worker").logDir, account: null };
  }
  const { instance, env } = findRunning("worker", isDemo);
  const { account } = await chooseAccount();
  return { env, logDir: instance.logDir, account };
}

/** Works on the queue until Ctrl-C, beside whatever else does; then finishes what has begun. */
export async function work(flags: Flags): Promise<void> {
  const [renders, generations] = [readCount(flags.render, "--render"), readCount(flags.generate, "--generate")];
  if (renders + generations === 0) {
    throw new TourneyError("INVALID_INPUT", {
      message: "There is nothing to work on.",
      reason: "A worker records pages, asks models, or both.",
      remedy: "Give --render N, --generate M, or both.",
    });
  }
  if (renders > 0) await installDebianPackages({ withPostgres: false });
  const { env, logDir, account } = await findEnvironment(flags.demo === true);
  const programs: Program[] = [];
  const keep = async (
    label: string,
    path: string,
    { log, ...how }: { env: NodeJS.ProcessEnv; log: string; account?: Account | null },
  ) => {
    const program = new Program({
      label,
      args: [path],
      ...how,
      logFile: join(logDir, log),
      stopLimitMs: DRAIN_LIMIT_MS,
    });
    programs.push(program);
    await step(`Starting the ${label}`, () => program.start());
  };
  const ended = new Promise<void>((resolve) => {
    for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) process.on(signal, () => resolve());
  });
  try {
    if (renders > 0) {
      const own = { ...renderEnvironment(env), TOURNEY_RENDERS: String(renders) };
      await keep("render worker", PROGRAMS.renderWorker, { env: own, log: "worker-render.log" });
    }
    if (generations > 0) {
      const own = { ...env, TOURNEY_GENERATIONS: String(generations) };
      await keep("generation worker", PROGRAMS.generateWorker, { env: own, log: "worker-generate.log", account });
    }
    say("Working. Ctrl-C finishes the recordings that have begun and stops; answers still coming are left to others.");
    await ended;
  } finally {
    await step("Finishing what has begun", async () => {
      await Promise.all(programs.map((program) => program.stop()));
    });
  }
}
