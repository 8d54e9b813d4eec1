import type { ChildProcess } from "node:child_process";
import { forkProgram, type ProgramFlags } from "./fork-program.js";

/** A program that is asked by numbered messages. */
interface Program<First> extends ProgramFlags {
  /** import.meta.url of a module beside it. */
  near: string;
  name: string;
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

/** @param onEnd told why, with what the process said last. */
function startProgram(
  { near, name, first, ...flags }: Program<unknown>,
  onAnswer: (answer: unknown) => void,
  onEnd: (why: string) => void,
): ChildProcess {
  const started = forkProgram(near, name, flags);
  let lastWords = "";
  started.stderr?.on("data", (chunk: Buffer) => {
    lastWords = (lastWords + chunk.toString("utf8")).slice(-2000);
    // What it says stands in the server's log.
    process.stderr.write(chunk);
  });
  const end = (why: string) => onEnd(`${why}. ${lastWords}`);
  started.on("message", (message) => onAnswer(message));
  started.on("error", (error) => end(error.message));
  started.on("exit", (code, signal) => end(String(code ?? signal)));
  started.send(first as object);
  return started;
}

/** Does something when there was a rest of so long. */
function afterRest(ms: number, act: () => void): { begin: () => void; stop: () => void } {
  let timer: NodeJS.Timeout | undefined;
  const stop = () => clearTimeout(timer);
  const begin = () => {
    stop();
    timer = ms === Infinity ? undefined : setTimeout(act, ms).unref();
  };
  return { begin, stop };
}

/**
 * Asks a program in a process of its own. The first question starts it. If it ends, every open question fails, and the next question starts it again.
 */
export function askProcess<Message, Asked extends { id: number }, Answer extends { id: number }>(
  program: Program<Message>,
): AskedProcess<Asked, Answer> {
  const { name, longestMs, idleMs = Infinity } = program;
  const waiting = new Map<number, { resolve: (answer: Answer) => void; reject: (error: Error) => void }>();
  let process: ChildProcess | null = null;
  let lastId = 0;
  let isClosed = false;
  const idle = afterRest(idleMs, () => {
    const own = process;
    process = null;
    own?.kill();
  });

  function start(): ChildProcess {
    const started = startProgram(
      program,
      (message) => {
        const answer = message as Answer;
        const asked = waiting.get(answer.id);
        waiting.delete(answer.id);
        // Whoever waits for an answer keeps the server going; an idle process does not.
        if (waiting.size === 0) started.channel?.unref();
        asked?.resolve(answer);
      },
      (why) => {
        if (process !== started) return;
        process = null;
        for (const { reject } of waiting.values()) reject(new Error(`${name} ended: ${why}`));
        waiting.clear();
      },
    );
    return started;
  }

  async function close(): Promise<void> {
    isClosed = true;
    idle.stop();
    const own = process;
    if (own === null) return;
    // Not `once` of node:events: it would fail where something was asked just before, and could not be sent any more.
    const isOver = new Promise((resolve) => own.once("exit", resolve));
    own.kill("SIGKILL");
    await isOver;
  }

  async function ask(asked: Omit<Asked, "id">): Promise<Answer> {
    if (isClosed) throw new Error(`${name} is closed`);
    idle.stop();
    process ??= start();
    const own = process;
    const id = ++lastId;
    const timer = setTimeout(() => own.kill("SIGKILL"), longestMs);
    const answer = new Promise<Answer>((resolve, reject) => waiting.set(id, { resolve, reject }));
    own.channel?.ref();
    own.send({ id, ...asked });
    return answer.finally(() => {
      clearTimeout(timer);
      if (waiting.size === 0) idle.begin();
    });
  }

  return { ask, close };
}
