import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { setTimeout as sleep } from "node:timers/promises";
import type { FilledScene } from "./filled-scene.js";

/** Ticks of the processor's clock a second: fixed on Linux. */
const TICKS = 100;

/** The server and the processes that it started. */
function listFamily(pid: number): number[] {
  try {
    const children = readFileSync(`/proc/${pid}/task/${pid}/children`, "utf8").trim();
    return [pid, ...(children === "" ? [] : children.split(" ").flatMap((child) => listFamily(Number(child))))];
  } catch {
    return [];
  }
}

function ticksOf(pid: number, withEnded: boolean): number {
  try {
    const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ")[1]!.split(" ").map(Number);
    return fields[11]! + fields[12]! + (withEnded ? fields[13]! + fields[14]! : 0);
  } catch {
    return 0;
  }
}

/** What of a process's children has ended, in ticks. */
const endedTicksOf = (pid: number): number => ticksOf(pid, true) - ticksOf(pid, false);

/** Seconds of processor that server and PostgreSQL have used. */
export function readSeconds(scene: FilledScene): number {
  const { serverPid, listPostgresPids } = scene;
  const [root, ...backends] = listPostgresPids();
  const ended = endedTicksOf(root!);
  const ticks = listFamily(serverPid).reduce((sum, pid) => sum + ticksOf(pid, true), ticksOf(root!, true));
  const all = backends.reduce((sum, pid) => sum + ticksOf(pid, false), ticks);
  // What one used that ended between the two readings is in neither.
  return endedTicksOf(root!) === ended ? all / TICKS : readSeconds(scene);
}

const listCounting = ({ serverPid }: FilledScene): number[] =>
  listFamily(serverPid).filter((pid) => commandOf(pid).includes("counting-child"));

/** Of these, what the process that counts has used: it brings standings up to date, whoever asks for what meanwhile. */
export const readCountingSeconds = (scene: FilledScene): number =>
  listCounting(scene).reduce((sum, pid) => sum + ticksOf(pid, true), 0) / TICKS;

/** Stops the process that counts, or lets it go on. */
export function signalCounting(scene: FilledScene, signal: "SIGSTOP" | "SIGCONT"): void {
  for (const pid of listCounting(scene)) process.kill(pid, signal);
}

function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, "utf8");
  } catch {
    return "";
  }
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

/** Waits until neither does anything any more, so that one measurement is not told what belongs to the one before. */
export async function untilIdle(scene: FilledScene): Promise<void> {
  for (let quiet = 0, last = readSeconds(scene); quiet < 3;) {
    await sleep(300);
    const now = readSeconds(scene);
    quiet = now - last < 0.03 ? quiet + 1 : 0;
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
