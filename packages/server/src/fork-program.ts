import { type ChildProcess, fork } from "node:child_process";
import { constants, setPriority } from "node:os";
import { fileURLToPath } from "node:url";

/**
 * Starts a program of ours in a process of its own, which knows of no key and stands behind the server on a busy machine. The server ends without waiting for it.
 *
 * @param near import.meta.url of a module beside it
 * @param name without its ending
 */
export function forkProgram(near: string, name: string, flags: readonly string[] = []): ChildProcess {
  // Where sources are run as they are, a process needs what makes them run.
  const isSource = near.endsWith(".ts");
  const started = fork(fileURLToPath(new URL(`./${name}.${isSource ? "ts" : "js"}`, near)), [], {
    execArgv: [...(isSource ? ["--import", import.meta.resolve("tsx"), "--conditions=tourney-source"] : []), ...flags],
    serialization: "advanced",
    // One arena for all its threads, of which one alone is busy: several kept 8 MB more.
    env: { MALLOC_ARENA_MAX: "1" },
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
