import { existsSync } from "node:fs";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { type AskedProcess, askProcess } from "./ask-process.js";

interface Asked {
  id: number;
  word: string;
  isLeftOut?: boolean;
}
interface Answer extends Asked {
  pid: number;
}

let asked: AskedProcess<Asked, Answer>;
const start = (longestMs = 20_000, idleMs = Infinity) =>
  (asked = askProcess<object, Asked, Answer>({
    ...{ near: import.meta.resolve("../test-support/echo-child.ts"), name: "echo-child", first: {}, longestMs, idleMs },
  }));
// A busy machine may take longer to start a process than any limit that a test can wait for: time passes where a test says so.
beforeEach(() => void vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] }));
afterEach(() => {
  vi.useRealTimers();
  return asked.close();
});

it("is answered each question by its own answer", async () => {
  start();
  const answers = await Promise.all(["one", "two", "three"].map((word) => asked.ask({ word })));
  expect(answers.map(({ word }) => word)).toEqual(["one", "two", "three"]);
});

it("is ended where an answer takes too long, and started again for the next question", async () => {
  start(3000);
  expect((await asked.ask({ word: "one" })).word).toBe("one");
  const tooLong = asked.ask({ word: "two", isLeftOut: true });
  const isRefused = expect(tooLong).rejects.toThrow("echo-child ended: SIGKILL");
  vi.advanceTimersByTime(2999);
  expect((await asked.ask({ word: "meanwhile" })).word).toBe("meanwhile");
  vi.advanceTimersByTime(1);
  await isRefused;
  expect((await asked.ask({ word: "three" })).word).toBe("three");
});

it("closes also where it is asked at the same moment, and is not started again", async () => {
  start();
  await asked.ask({ word: "one" });
  const open = asked.ask({ word: "two", isLeftOut: true });
  const isRefused = expect(open).rejects.toThrow("echo-child ended");
  const closed = asked.close();
  const late = expect(asked.ask({ word: "three" })).rejects.toThrow("echo-child is closed");
  await Promise.all([closed, isRefused, late]);
});

it("is ended when nobody asks any more, and started again for whoever does", async () => {
  start(20_000, 300);
  const [{ pid }, second] = await Promise.all([asked.ask({ word: "one" }), asked.ask({ word: "two" })]);
  expect(second.pid).toBe(pid);
  expect((await asked.ask({ word: "three" })).pid).toBe(pid);
  const isThere = () => existsSync(`/proc/${pid}`);
  vi.advanceTimersByTime(299);
  expect(isThere()).toBe(true);
  vi.advanceTimersByTime(1);
  await expect.poll(isThere, { timeout: 10_000 }).toBe(false);
  const next = await asked.ask({ word: "four" });
  expect(next.word).toBe("four");
  expect(next.pid).not.toBe(pid);
});
