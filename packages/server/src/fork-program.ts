import { type ChildProcess, fork } from "node:child_process";
import { constants, setPriority } from "node:os";
import { fileURLToPath } from "node:url";

/**
 * Debian's util-linux, which every system has. It asks the kernel to end the process with the one that started it, however that one ends, and turns into the program. A thread that
 * asks every second who the parent is would take 9 MB.
 */
const ENDS_WITH_PARENT = ["/usr/bin/setpriv", "--pdeathsig", "KILL"] as const;
/**
 * Bytes. What is as large, as columns of ballots are, goes back to the system when it is let go of. Without such a bound malloc raises it by itself, and keeps what it had once.
 */
const LARGE = 128 * 1024;

export interface ProgramFlags {
  /** Of the platform. */
  flags?: readonly string[];
  /** Bytes, in place of `LARGE`. */
  large?: number;
}

/** Where sources are run as they are, a process needs what makes them run. */
const listSourceFlags = () => ["--import", import.meta.resolve("tsx"), "--conditions=tourney-source"];

/**
 * Starts a program of ours in a process of its own, which knows of no key and stands behind the server on a busy machine. The server ends without waiting for it, and it ends with
 * the server, also while it is amid something that never ends.
 *
 * @param near import.meta.url of a module beside it
 * @param name without its ending
 */
export function forkProgram(
  near: string,
  name: string,
  { flags = [], large = LARGE }: ProgramFlags = {},
): ChildProcess {
  const isSource = near.endsWith(".ts");
  const [execPath, ...before] = ENDS_WITH_PARENT;
  const started = fork(fileURLToPath(new URL(`./${name}.${isSource ? "ts" : "js"}`, near)), [], {
    execPath,
    execArgv: [...before, process.execPath, ...(isSource ? listSourceFlags() : []), ...flags],
    serialization: "advanced",
    // One arena for all its threads, of which one alone is busy: several kept 8 MB more.
    env: { MALLOC_ARENA_MAX: "1", MALLOC_MMAP_THRESHOLD_: `${large}` },
    stdio: ["ignore", "ignore", "pipe", "ipc"],
  });
  try {
    if (started.pid !== undefined) setPriority(started.pid, constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // It is over already, which is told where it is asked something.
  }
  started.unref();
  started.channel?.unref();
  return started;
}
