import { existsSync } from "node:fs";
import { afterEach, expect, it } from "vitest";
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
afterEach(() => asked.close());

it("is answered each question by its own answer", async () => {
  start();
  const answers = await Promise.all(["one", "two", "three"].map((word) => asked.ask({ word })));
  expect(answers.map(({ word }) => word)).toEqual(["one", "two", "three"]);
});

it("is ended where an answer takes too long, and started again for the next question", async () => {
  start(3000);
  expect((await asked.ask({ word: "one" })).word).toBe("one");
  await expect(asked.ask({ word: "two", isLeftOut: true })).rejects.toThrow("echo-child ended: SIGKILL");
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
  await expect.poll(isThere, { timeout: 10_000 }).toBe(false);
  const next = await asked.ask({ word: "four" });
  expect(next.word).toBe("four");
  expect(next.pid).not.toBe(pid);
});
