import { readdirSync, readFileSync } from "node:fs";

const PAGE_BYTES = 4096;
/** The kernel counts processor time in hundredths of a second everywhere (sysconf(_SC_CLK_TCK)). */
const TICK_MS = 10;

interface GroupMember {
  pid: string;
  /** The fields of /proc/PID/stat from its third on. */
  fields: string[];
}

function listGroup(group: number): GroupMember[] {
  return readdirSync("/proc").flatMap((pid) => {
    if (!/^\d+$/.test(pid)) return [];
    try {
      // The name may hold spaces and brackets; the fields begin behind its last one.
      const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ").at(-1)!.split(" ");
      return Number(fields[2]) === group ? [{ pid, fields }] : [];
    } catch {
      // It has ended since the folder was read.
      return [];
    }
  });
}

/** Processor time of a process group in ms, of those of its processes that are alive. */
export const measureGroupCpuMs = (group: number): number =>
  listGroup(group).reduce((sum, { fields }) => sum + (Number(fields[11]) + Number(fields[12])) * TICK_MS, 0);

/** Memory of a process group in bytes; what its processes share is counted once where the kernel tells shares apart. */
export const measureGroupMemory = (group: number): number =>
  listGroup(group).reduce((sum, { pid, fields }) => sum + measureProcess(pid, Number(fields[21])), 0);

function measureProcess(pid: string, residentPages: number): number {
  try {
    const kilobytes = /^Pss:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, "utf8"))?.[1] ?? 0;
    return Number(kilobytes) * 1024;
  } catch {
    // Another user's process: what it shares is counted in full.
    return residentPages * PAGE_BYTES;
  }
}
