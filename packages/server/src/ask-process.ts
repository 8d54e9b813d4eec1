import type { ChildProcess } from "node:child_process";
import { forkProgram } from "./fork-program.js";

/** A program that is asked by numbered messages. */
interface Program<First> {
  /** import.meta.url of a module beside it. */
  near: string;
  name: string;
  /** Of the platform. */
  flags?: readonly string[];
  /** What it is told before anything is asked. */
  first: First;
  /** It is ended when an answer takes longer. */
  longestMs: number;
  /** After so long without a question it is ended, and what it holds in memory is free: the next question starts another. */
  idleMs?: number;
}

export interface AskedProcess<Asked, Answer> {
  /** @throws Error when the process ends before it has answered, or is closed. */
  ask: (asked: Omit<Asked, "id">) => Promise<Answer>;
  close: () => Promise<void>;
}

/**
 * Asks a program in a process of its own. The first question starts it. If it ends, every open question fails, and the next question starts it again.
 */
export function askProcess<Message, Asked extends { id: number }, Answer extends { id: number }>({
  near,
  name,
  flags = [],
  first,
  longestMs,
  idleMs = Infinity,
}: Program<Message>): AskedProcess<Asked, Answer> {
  const waiting = new Map<number, { resolve: (answer: Answer) => void; reject: (error: Error) => void }>();
  let process: ChildProcess | null = null;
  let lastId = 0;
  let isClosed = false;
  let idle: NodeJS.Timeout | undefined;

  function restLater(): void {
    clearTimeout(idle);
    if (idleMs === Infinity || waiting.size > 0) return;
    idle = setTimeout(() => {
      const own = process;
      process = null;
      own?.kill();
    }, idleMs).unref();
  }

  function start(): ChildProcess {
    const started = forkProgram(near, name, flags);
    let lastWords = "";
    started.stderr?.on("data", (chunk: Buffer) => (lastWords = (lastWords + chunk.toString("utf8")).slice(-2000)));
    const end = (why: string) => {
      if (process !== started) return;
      process = null;
      for (const { reject } of waiting.values()) reject(new Error(`${name} ended: ${why}. ${lastWords}`));
      waiting.clear();
    };
    started.on("message", (message) => {
      const answer = message as Answer;
      const asked = waiting.get(answer.id);
      waiting.delete(answer.id);
      // Whoever waits for an answer keeps the server going; an idle process does not.
      if (waiting.size === 0) started.channel?.unref();
      asked?.resolve(answer);
    });
    started.on("error", (error) => end(error.message));
    started.on("exit", (code, signal) => end(String(code ?? signal)));
    started.send(first as object);
    return started;
  }

  async function close(): Promise<void> {
    isClosed = true;
    clearTimeout(idle);
    const own = process;
    if (own === null) return;
    // Not `once` of node:events: it would fail where something was asked just before, and could not be sent any more.
    const isOver = new Promise((resolve) => own.once("exit", resolve));
    own.kill("SIGKILL");
    await isOver;
  }

  async function ask(asked: Omit<Asked, "id">): Promise<Answer> {
    if (isClosed) throw new Error(`${name} is closed`);
    clearTimeout(idle);
    process ??= start();
    const own = process;
    const id = ++lastId;
    const timer = setTimeout(() => own.kill("SIGKILL"), longestMs);
    const answer = new Promise<Answer>((resolve, reject) => waiting.set(id, { resolve, reject }));
    own.channel?.ref();
    own.send({ id, ...asked });
    return answer.finally(() => {
      clearTimeout(timer);
      restLater();
    });
  }

  return { ask, close };
}
