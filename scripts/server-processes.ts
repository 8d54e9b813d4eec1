import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { setTimeout as sleep } from "node:timers/promises";
import type { FilledScene } from "./filled-scene.js";

const readOr = (path: string, otherwise: string): string => {
  try {
    return readFileSync(path, "utf8");
  } catch {
    return otherwise;
  }
};

/** Seconds of processor that the threads of a process have used, to the microsecond; 0 where it has ended. A thread that has ended has taken its time with it. */
function secondsOf(pid: number): number {
  const nanosecondsOf = (thread: string) => Number(readOr(`/proc/${pid}/task/${thread}/schedstat`, "0").split(" ")[0]);
  return listThreads(pid).reduce((sum, thread) => sum + nanosecondsOf(thread), 0) / 1e9;
}

function listThreads(pid: number): string[] {
  try {
    return readdirSync(`/proc/${pid}/task`);
  } catch {
    return [];
  }
}

/** The server and the processes that it started. */
function listFamily(pid: number): number[] {
  const children = readOr(`/proc/${pid}/task/${pid}/children`, "").trim();
  return [pid, ...(children === "" ? [] : children.split(" ").flatMap((child) => listFamily(Number(child))))];
}

/** Ticks of the processor's clock a second: fixed on Linux. */
const TICKS = 100;

/** What the ended children of a process have used, in seconds: Linux tells that in ticks only. */
function endedSecondsOf(pid: number): number {
  const fields = readOr(`/proc/${pid}/stat`, "").split(") ")[1]?.split(" ").map(Number);
  return fields === undefined ? 0 : (fields[13]! + fields[14]!) / TICKS;
}

/** Seconds of processor that server and PostgreSQL have used. */
export function readSeconds(scene: FilledScene): number {
  const [root, ...backends] = scene.listPostgresPids();
  const family = [root!, ...listFamily(scene.serverPid)];
  const readEnded = () => family.reduce((sum, pid) => sum + endedSecondsOf(pid), 0);
  const ended = readEnded();
  const all = [...family, ...backends].reduce((sum, pid) => sum + secondsOf(pid), ended);
  // What one used that ended between the two readings is in neither.
  return readEnded() === ended ? all : readSeconds(scene);
}

const listCounting = ({ serverPid }: FilledScene): number[] =>
  listFamily(serverPid).filter((pid) => readOr(`/proc/${pid}/cmdline`, "").includes("counting-child"));

/** Of these, what the process that counts has used: it brings standings up to date, whoever asks for what meanwhile. */
export const readCountingSeconds = (scene: FilledScene): number =>
  listCounting(scene).reduce((sum, pid) => sum + secondsOf(pid), 0);

/** Stops the process that counts, or lets it go on. */
export function signalCounting(scene: FilledScene, signal: "SIGSTOP" | "SIGCONT"): void {
  for (const pid of listCounting(scene)) process.kill(pid, signal);
}

/** Some 44 ms of processor on the machine on which the figures in docs/figures.md were taken, and 80 in its slow minutes. */
const YARDSTICK = Buffer.alloc(16e6, 7);

/** Milliseconds of processor that one and the same piece of work takes now. A loop of our own would not do: how fast it is depends on whether V8 has compiled it by then. */
export function measureYardstick(): number {
  const before = process.cpuUsage();
  createHash("sha256").update(YARDSTICK).digest();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

/** The server and PostgreSQL use up to 3 ms in any 200 when nobody asks for anything. */
const QUIET_SECONDS = 0.01;
const LOOKS_EVERY_MS = 200;

/**
 * Waits until neither does anything any more, so that one measurement is not told what belongs to the one before.
 *
 * @param quietMs for how long they have done nothing by then
 */
export async function untilIdle(scene: FilledScene, quietMs = 1000): Promise<void> {
  for (let quiet = 0, last = readSeconds(scene); quiet * LOOKS_EVERY_MS < quietMs;) {
    await sleep(LOOKS_EVERY_MS);
    const now = readSeconds(scene);
    quiet = now - last < QUIET_SECONDS ? quiet + 1 : 0;
    last = now;
  }
}

const readMb = (pid: number, field: "VmHWM" | "VmRSS" | "Pss"): number =>
  Number(
    new RegExp(`^${field}:\\s+(\\d+)`, "m").exec(
      readFileSync(`/proc/${pid}/${field === "Pss" ? "smaps_rollup" : "status"}`, "utf8"),
    )![1],
  ) / 1024;

/**
 * Memory of the server and of all processes that it started, in MB: the sum of what each holds now, and of the most that each has held. What several of them hold
 * together, as the program of Node, is in both sums once for each; in `serverMbSharedOnce` it is once.
 */
export function readMemory({ serverPid }: FilledScene) {
  const family = listFamily(serverPid);
  const sumOf = (field: Parameters<typeof readMb>[1]) =>
    Math.round(family.reduce((sum, pid) => sum + readMb(pid, field), 0));
  return {
    serverMb: sumOf("VmRSS"),
    serverPeakMb: sumOf("VmHWM"),
    serverMbSharedOnce: sumOf("Pss"),
    processes: family.length,
  };
}
