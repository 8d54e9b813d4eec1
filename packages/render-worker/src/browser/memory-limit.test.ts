import { type ChildProcess, spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { afterEach, describe, expect, it } from "vitest";
import { limitByWatching, limitMemory, type MemoryLimit } from "./memory-limit.js";
import { createGroupMeter, measureGroupMemory } from "./process-group.js";

const MB = 1_000_000;
const children: ChildProcess[] = [];

/** A process group that fills as much memory as told, and then waits. */
function startHungry(megabytes: number, limit: MemoryLimit | null = null) {
  const program = `const kept = Buffer.alloc(${megabytes} * 1e6, 1); console.log(kept.length); setInterval(() => kept.length, 1000);`;
  const [command, ...args] = [...(limit?.prefix ?? []), process.execPath, "-e", program];
  const child = spawn(command, args, { stdio: ["ignore", "pipe", "ignore"], detached: true });
  children.push(child);
  limit?.watch(child.pid!);
  const ended = new Promise<NodeJS.Signals | null>((resolve) => child.once("exit", (_code, signal) => resolve(signal)));
  const filled = new Promise<void>((resolve) => child.stdout.once("data", () => resolve()));
  return { group: child.pid!, ended, filled };
}

afterEach(() => {
  for (const { pid } of children.splice(0))
    try {
      process.kill(-pid!, "SIGKILL");
    } catch {
      // It has ended already, as most of these do.
    }
});

describe("the memory of a process group", () => {
  it("is what its processes use, and nothing once they are gone", async () => {
    const { group, ended, filled } = startHungry(150);
    await filled;
    const used = measureGroupMemory(group);
    expect(used).toBeGreaterThan(150 * MB);
    expect(used).toBeLessThan(400 * MB);
    process.kill(-group, "SIGKILL");
    await ended;
    expect(measureGroupMemory(group)).toBe(0);
  });
});

describe("the processor time of a process group", () => {
  it("grows with what its processes do", async () => {
    const program =
      "const end = Date.now() + 400; while (Date.now() < end); console.log(1); setInterval(() => 1, 1000)";
    const child = spawn(process.execPath, ["-e", program], { stdio: ["ignore", "pipe", "ignore"], detached: true });
    children.push(child);
    await new Promise<void>((resolve) => child.stdout.once("data", () => resolve()));
    // A busy machine may take some of the time away from it.
    expect(createGroupMeter(child.pid!).measureCpuMs()).toBeGreaterThan(100);
  });
});

describe.each([
  ["whatever holds it here", limitMemory],
  ["by watching", limitByWatching],
] as const)("a limit on memory, %s", (_how, make) => {
  it("ends what takes more, and says so", async () => {
    const limit = make(120 * MB);
    const { ended } = startHungry(400, limit);
    expect(await ended).toBe("SIGKILL");
    expect(limit.wasHit()).toBe(true);
    limit.end();
  });

  it("leaves alone what stays within it, and leaves nothing behind", async () => {
    const limit = make(500 * MB);
    const { group, ended, filled } = startHungry(20, limit);
    await filled;
    expect(limit.wasHit()).toBe(false);
    process.kill(-group, "SIGKILL");
    await ended;
    limit.end();
    limit.end();
    const folder = limit.prefix.at(-1);
    if (folder !== undefined) await expect.poll(() => existsSync(folder)).toBe(false);
  });
});
