import { readdirSync, readFileSync } from "node:fs";

const PAGE_BYTES = 4096;
/** The kernel counts processor time in hundredths of a second everywhere (sysconf(_SC_CLK_TCK)). */
const TICK_MS = 10;

interface GroupMember {
  pid: string;
  /** The fields of /proc/PID/stat from its third on. */
  fields: string[];
}

/** The fields of a `stat` file from its third on; null when what it tells of has ended. */
function readStat(path: string): string[] | null {
  try {
    // The name may hold spaces and brackets; the fields begin behind its last one.
    return readFileSync(path, "utf8").split(") ").at(-1)!.split(" ");
  } catch {
    return null;
  }
}

function listGroup(group: number): GroupMember[] {
  return readdirSync("/proc").flatMap((pid) => {
    if (!/^\d+$/.test(pid)) return [];
    const fields = readStat(`/proc/${pid}/stat`);
    return fields !== null && Number(fields[2]) === group ? [{ pid, fields }] : [];
  });
}

/** What the processes of a group do with the processors. */
export interface GroupMeter {
  /** Processor time in ms that they have used so far, of those that have ended too, as far as they were seen. */
  measureCpuMs: () => number;
  /** Whether every thread of them sleeps: what they were told has been worked off. */
  isAsleep: () => boolean;
}

/** A browser starts its processes at its beginning: looking through all of the machine's for new ones can wait so long. */
const SAME_PROCESSES_MS = 100;

export function createGroupMeter(group: number): GroupMeter {
  const used = new Map<string, number>();
  let members: GroupMember[] = [];
  let lookedAt = -Infinity;
  /** The group's processes as they are now, but for those that have just begun. */
  const read = (): GroupMember[] => {
    if (performance.now() - lookedAt < SAME_PROCESSES_MS)
      return members.flatMap(({ pid }) => {
        const fields = readStat(`/proc/${pid}/stat`);
        return fields === null ? [] : [{ pid, fields }];
      });
    lookedAt = performance.now();
    members = listGroup(group);
    return members;
  };
  return {
    measureCpuMs() {
      for (const { pid, fields } of read()) used.set(pid, (Number(fields[11]) + Number(fields[12])) * TICK_MS);
      return [...used.values()].reduce((sum, ms) => sum + ms, 0);
    },
    isAsleep: () => read().every(({ pid }) => listThreadStates(pid).every((state) => state !== "R" && state !== "D")),
  };
}

function listThreadStates(pid: string): string[] {
  try {
    return readdirSync(`/proc/${pid}/task`).flatMap(
      (thread) => readStat(`/proc/${pid}/task/${thread}/stat`)?.[0] ?? [],
    );
  } catch {
    // It has ended since it was listed.
    return [];
  }
}

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
