import { measureGroupMemory } from "./process-group.js";
import { spawnSync } from "node:child_process";
import { randomUUID } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, rmdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/** All memory that one recording's browser may use. A medium page takes a quarter of it. */
export const MOST_MEMORY_BYTES = 1_200_000_000;
const LOOK_EVERY_MS = 100;

/** Holds the memory of a browser and everything it starts. */
export interface MemoryLimit {
  /** `cgroup` where the kernel holds it, `watched` where the processes are looked at and killed. */
  kind: "cgroup" | "watched";
  /** Put before the browser's own command. */
  prefix: string[];
  /** Begins to watch the process group, where the kernel does not hold it. */
  watch: (group: number) => void;
  wasHit: () => boolean;
  /** To be called when every process of the browser is gone. */
  end: () => void;
}

interface Controller {
  folder: string;
  limitFiles: string[];
  /** How often the kernel had to kill, as its file says. */
  readKills: (folder: string) => number;
}

const readNumber = (path: string, pattern: RegExp): number =>
  Number(pattern.exec(readFileSync(path, "utf8"))?.[1] ?? 0);

/** The second version of control groups has one tree, the first one a tree for memory alone. */
const CONTROLLERS: readonly Controller[] = [
  {
    folder: "/sys/fs/cgroup/memory",
    limitFiles: ["memory.limit_in_bytes", "memory.memsw.limit_in_bytes"],
    readKills: (folder) => readNumber(join(folder, "memory.oom_control"), /^oom_kill (\d+)/m),
  },
  {
    folder: "/sys/fs/cgroup",
    limitFiles: ["memory.max", "memory.swap.max"],
    readKills: (folder) => readNumber(join(folder, "memory.events"), /^oom_kill (\d+)/m),
  },
];

/** A limit for one browser: by a control group where one can be made, else by watching. */
export const limitMemory = (bytes = MOST_MEMORY_BYTES): MemoryLimit => limitByGroup(bytes) ?? limitByWatching(bytes);

function limitByGroup(bytes: number): MemoryLimit | null {
  for (const { folder, limitFiles, readKills } of CONTROLLERS) {
    const group = join(folder, `tourney-${randomUUID()}`);
    try {
      mkdirSync(group);
    } catch {
      // Not allowed here, or not this version.
      continue;
    }
    const [limitFile, swapFile] = limitFiles.map((name) => join(group, name));
    if (!setLimit(limitFile!, bytes) || !canJoin(group)) {
      rmdirSync(group);
      continue;
    }
    // Swap is held too where the kernel counts it; where it does not, memory alone is.
    setLimit(swapFile!, swapFile!.endsWith("memory.swap.max") ? 0 : bytes);
    let kills = 0;
    return {
      kind: "cgroup",
      prefix: ["sh", "-c", `${JOIN} && exec "$@"`, group],
      watch: () => undefined,
      wasHit: () => existsSync(group) && (kills = Math.max(kills, readKills(group))) > 0,
      end: () => removeGroup(group),
    };
  }
  return null;
}

const JOIN = 'echo $$ > "$0/cgroup.procs"';

/** Some kernels show a group's files and refuse what is written there. */
function setLimit(file: string, bytes: number): boolean {
  try {
    // Opened only if it is there: a file that is written anew here would hold nothing.
    writeFileSync(file, String(bytes), { flag: "r+" });
    return true;
  } catch {
    return false;
  }
}

let couldJoin: boolean | null = null;

/** Whether a process may put itself in such a group: tried out once. */
const canJoin = (group: string): boolean =>
  (couldJoin ??= spawnSync("sh", ["-c", JOIN, group], { stdio: "ignore" }).status === 0);

/** A group goes when its last process is reaped, which may take the kernel a moment. */
function removeGroup(group: string, triesLeft = 20): void {
  try {
    rmdirSync(group);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === "ENOENT" || triesLeft === 0) return;
    setTimeout(() => removeGroup(group, triesLeft - 1), 100).unref();
  }
}

/** The limit without help of the kernel: what the processes use is looked at, and the group killed when it is too much. */
export function limitByWatching(bytes: number): MemoryLimit {
  let isHit = false;
  let timer: NodeJS.Timeout | undefined;
  return {
    kind: "watched",
    prefix: [],
    watch(group) {
      timer = setInterval(() => {
        if (measureGroupMemory(group) <= bytes) return;
        isHit = true;
        clearInterval(timer);
        try {
          process.kill(-group, "SIGKILL");
        } catch {
          // It ended by itself in between.
        }
      }, LOOK_EVERY_MS);
      timer.unref();
    },
    wasHit: () => isHit,
    end: () => clearInterval(timer),
  };
}
