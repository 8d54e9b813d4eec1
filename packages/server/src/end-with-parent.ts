import { Worker } from "node:worker_threads";

/** Asks every second whose child this process is. It runs beside whatever keeps the process busy. */
const WATCH = `
  const parent = process.ppid;
  setInterval(() => process.ppid === parent || process.kill(process.pid, "SIGKILL"), 1000);
`;

/**
 * Ends this process when the one that started it is gone, however it went, and also while this one is amid something that never ends: a message that the
 * connection is over would not be heard then.
 */
export function endWithParent(): void {
  new Worker(WATCH, { eval: true, execArgv: [], stdout: false }).unref();
}
