import type { ChildProcess } from "node:child_process";
import { setTimeout as sleep } from "node:timers/promises";
import { toTourneyError } from "@tourney/core/errors";
import { Restarts } from "./restarts.js";
import { say } from "./step.js";

/** Something that is to run for as long as we do. */
export interface Kept {
  /** What it is called on screen, as in "render worker". */
  label: string;
  logFile: string;
  /** Starts it. Resolves when it is ready; when it does not come up, nothing of it is left. */
  launch: () => Promise<ChildProcess>;
  /** Ends it in good order. */
  end: (child: ChildProcess) => Promise<void>;
  /** Told when it is away, and when it is back. */
  onChange?: (isThere: boolean) => void;
}

/** Keeps something running: started again when it ends by itself, however often, and stopped when asked. */
export class Keeper {
  private child: ChildProcess | null = null;
  private launching: Promise<void> = Promise.resolve();
  private readonly stopped = new AbortController();
  private readonly restarts = new Restarts();

  constructor(private readonly kept: Kept) {}

  /** Starts it for the first time. @throws what `launch` throws. */
  async start(): Promise<void> {
    await (this.launching = this.launch());
  }

  async stop(): Promise<void> {
    this.stopped.abort();
    await this.launching.catch(() => undefined);
    const { child } = this;
    if (child !== null && isRunning(child)) await this.kept.end(child);
  }

  private isStopping(): boolean {
    return this.stopped.signal.aborted;
  }

  private async launch(): Promise<void> {
    const child = await this.kept.launch();
    this.child = child;
    this.restarts.noteStart();
    if (isRunning(child)) child.once("exit", () => void this.bringBack());
    else void this.bringBack();
  }

  private async bringBack(): Promise<void> {
    if (this.isStopping()) return;
    const { label, logFile, onChange } = this.kept;
    const awaySince = performance.now();
    onChange?.(false);
    say(`The ${label} ended by itself and is started again; see ${logFile}.`);
    let told = "";
    while (!this.isStopping()) {
      await sleep(this.restarts.noteEnd(), null, { signal: this.stopped.signal }).catch(() => null);
      if (this.isStopping()) return;
      try {
        await (this.launching = this.launch());
        onChange?.(true);
        say(`The ${label} is back after ${Math.round((performance.now() - awaySince) / 1000)} s.`);
        return;
      } catch (thrown) {
        const { reason, remedy } = toTourneyError(thrown);
        // What goes on for hours is told once.
        if (reason !== told) say(`The ${label} does not start and is tried again. ${reason} ${remedy}`);
        told = reason;
      }
    }
  }
}

export const isRunning = (child: ChildProcess): boolean => child.exitCode === null && child.signalCode === null;
