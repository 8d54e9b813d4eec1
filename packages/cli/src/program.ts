import { type ChildProcess, spawn } from "node:child_process";
import { closeSync, openSync } from "node:fs";
import { TourneyError } from "@tourney/core/errors";
import type { Account } from "./account.js";
import { isRunning, Keeper } from "./keeper.js";
import { readTail } from "./log-file.js";

const READY_LIMIT_MS = 60_000;
const STOP_LIMIT_MS = 12_000;

export interface ProgramOptions {
  /** What it is called on screen. */
  label: string;
  args: readonly string[];
  env: NodeJS.ProcessEnv;
  logFile: string;
  /** Who it runs as, where that is not who we are. */
  account?: Account | null;
  /** How long it may take to finish what it has begun. */
  stopLimitMs?: number;
  onChange?: (isThere: boolean) => void;
}

/** A program of ours that is kept running, and can be told things. */
export class Program extends Keeper {
  private readonly told: object[];
  private readonly running: { child: ChildProcess | null };

  constructor({ stopLimitMs = STOP_LIMIT_MS, onChange, ...options }: ProgramOptions) {
    const told: object[] = [];
    const running: { child: ChildProcess | null } = { child: null };
    super({
      label: options.label,
      logFile: options.logFile,
      ...(onChange === undefined ? {} : { onChange }),
      launch: async () => {
        const child = await launch(options);
        for (const message of told) child.send(message);
        return (running.child = child);
      },
      end: (child) => end(child, stopLimitMs),
    });
    this.told = told;
    this.running = running;
  }

  /** Tells the program something that stays true: it is told again when it is started again. */
  tell(message: object): void {
    this.told.push(message);
    const { child } = this.running;
    if (child?.connected === true) child.send(message);
  }
}

/** Starts a program; resolves when it says that it is ready. @throws TourneyError SETUP_FAILED */
async function launch({
  label,
  args,
  env,
  logFile,
  account = null,
}: Omit<ProgramOptions, "stopLimitMs" | "onChange">): Promise<ChildProcess> {
  const log = openSync(logFile, "a", 0o600);
  // Its own process group: Ctrl-C reaches us alone, so that everything is stopped in order.
  const child = spawn(process.execPath, [...args], {
    stdio: ["ignore", log, log, "ipc"],
    env,
    detached: true,
    ...account,
  });
  closeSync(log);
  const failure = (reason: string) =>
    new TourneyError("SETUP_FAILED", {
      message: `The ${label} does not start.`,
      reason,
      remedy: `See ${logFile}. Everything stored is kept.`,
    });
  let timer: NodeJS.Timeout | undefined;
  const onEnd: { exit: () => void } = { exit: () => undefined };
  try {
    await new Promise<void>((resolve, reject) => {
      timer = setTimeout(() => reject(failure(`It was not ready within ${READY_LIMIT_MS / 1000} s.`)), READY_LIMIT_MS);
      onEnd.exit = () => reject(failure(readTail(logFile)));
      child.once("message", resolve);
      child.once("exit", onEnd.exit);
      child.once("error", (error) => reject(failure(error.message)));
    });
    return child;
  } catch (error) {
    if (isRunning(child)) await end(child, 0);
    throw error;
  } finally {
    clearTimeout(timer);
    child.off("exit", onEnd.exit);
  }
}

async function end(child: ChildProcess, limitMs: number): Promise<void> {
  const ended = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGTERM");
  const timer = setTimeout(() => child.kill("SIGKILL"), limitMs);
  await ended;
  clearTimeout(timer);
}
