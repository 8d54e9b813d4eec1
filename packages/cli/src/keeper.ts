import { type ChildProcess, spawn } from "node:child_process";
import { closeSync, openSync, readFileSync } from "node:fs";
import { setTimeout as sleep } from "node:timers/promises";
import { TourneyError } from "@tourney/core/errors";
import { say } from "./step.js";

const READY_LIMIT_MS = 60_000;
const STOP_LIMIT_MS = 12_000;
const RESTART_DELAY_MS = 1000;
/** A program that ends this often within a minute has something that a restart does not mend. */
const MOST_RESTARTS_A_MINUTE = 5;

export interface KeeperOptions {
  /** What it is called on screen. */
  label: string;
  args: readonly string[];
  env: NodeJS.ProcessEnv;
  logFile: string;
  /** How long it may take to finish what it has begun. */
  stopLimitMs?: number;
}

/** One program that is kept running: restarted when it ends by itself, stopped when asked. */
export class Keeper {
  private child: ChildProcess | null = null;
  private isStopping = false;
  private restarts: number[] = [];
  private readonly told: object[] = [];

  constructor(private readonly options: KeeperOptions) {}

  /** Starts the program; resolves when it says that it is ready. */
  async start(): Promise<void> {
    const log = openSync(this.options.logFile, "a");
    // Its own process group: Ctrl-C reaches us alone, so that everything is stopped in order.
    const child = spawn(process.execPath, [...this.options.args], {
      stdio: ["ignore", log, log, "ipc"],
      env: this.options.env,
      detached: true,
    });
    closeSync(log);
    this.child = child;
    await new Promise<void>((resolve, reject) => {
      const timer = setTimeout(
        () => reject(this.failure(`It was not ready within ${READY_LIMIT_MS / 1000} s.`)),
        READY_LIMIT_MS,
      );
      child.once("message", () => {
        clearTimeout(timer);
        child.removeAllListeners("exit");
        child.once("exit", () => void this.restart());
        for (const message of this.told) child.send(message);
        resolve();
      });
      child.once("exit", () => {
        clearTimeout(timer);
        reject(this.failure(readFileSync(this.options.logFile, "utf8").trim().split("\n").slice(-6).join("\n")));
      });
    });
  }

  /** Tells the program something that stays true: it is told again when it is restarted. */
  tell(message: object): void {
    this.told.push(message);
    if (this.child?.connected === true) this.child.send(message);
  }

  async stop(): Promise<void> {
    this.isStopping = true;
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGTERM");
    const timer = setTimeout(() => child.kill("SIGKILL"), this.options.stopLimitMs ?? STOP_LIMIT_MS);
    await ended;
    clearTimeout(timer);
  }

  private async restart(): Promise<void> {
    if (this.isStopping) return;
    const now = Date.now();
    this.restarts = [...this.restarts.filter((at) => at > now - 60_000), now];
    if (this.restarts.length > MOST_RESTARTS_A_MINUTE) {
      say(
        `The ${this.options.label} ended ${this.restarts.length} times within a minute and is left alone; see ${this.options.logFile}. Restart Tourney when its cause is mended.`,
      );
      return;
    }
    say(`The ${this.options.label} ended by itself and is started again; see ${this.options.logFile}.`);
    await sleep(RESTART_DELAY_MS);
    await this.start().catch(() => this.restart());
  }

  private failure(reason: string): TourneyError {
    return new TourneyError("SETUP_FAILED", {
      message: `The ${this.options.label} does not start.`,
      reason,
      remedy: `See ${this.options.logFile}. Everything stored is kept.`,
    });
  }
}
