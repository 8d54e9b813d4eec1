import { availableParallelism } from "node:os";
import { TourneyError } from "@tourney/core/errors";
import pLimit from "p-limit";
import { InvalidInput } from "../http/invalid-input.js";
import { ChildEnded, ReadingChild } from "./child.js";
import type { Given, Read, ReadingName } from "./readings.js";

export interface ReaderLimits {
  /** For one reading, its process' start included. */
  timeMs: number;
  /** For what the objects of a process may take, in MB. */
  memoryMb: number;
  /** Readings at once; pages for voters come beside them. */
  processes: number;
}

const LIMITS: ReaderLimits = {
  timeMs: 20_000,
  memoryMb: 768,
  processes: Math.max(2, Math.min(4, availableParallelism() - 1)),
};
/** Pages that are made for voters at once: they wait behind each other, and never behind what else is read. */
const PAGES_AT_ONCE = 2;
/** A process that has had nothing to do for so long ends: it holds some 60 MB. */
const IDLE_MS = 20_000;

/** A reading that was stopped because it took too long or too much memory. */
export class TooCostly extends TourneyError {
  constructor(
    /** As in "took more than 20 s". */
    readonly why: string,
    cause?: unknown,
  ) {
    super("TOO_LARGE", {
      message: `Reading it ${why}, and was stopped.`,
      reason: "What it is made of would keep the machine from everything else.",
      remedy: "Check that it is what you mean, and give it in smaller parts. Nothing was changed.",
      cause,
    });
  }
}

/** Reads what others wrote. */
export interface Readers {
  /**
   * @throws TooCostly where it took too long or too much memory
   * @throws TourneyError what the reading itself throws
   */
  read: <Name extends ReadingName>(name: Name, given: Given<Name>) => Promise<Read<Name>>;
  close: () => void;
}

/**
 * Reads in processes of their own, of which each does one thing at a time and is ended where that takes too much. Not in threads: a thread whose
 * memory is full while JSON is parsed takes the whole process with it.
 */
export function createReaders(limits: Partial<ReaderLimits> = {}): Readers {
  const { timeMs, memoryMb, processes } = { ...LIMITS, ...limits };
  const free = new Map<ReadingChild, NodeJS.Timeout>();
  const busy = new Set<ReadingChild>();
  const inTurn = pLimit(processes);
  const pagesInTurn = pLimit(PAGES_AT_ONCE);

  function take(): ReadingChild {
    for (const [child, timer] of free) {
      clearTimeout(timer);
      free.delete(child);
      if (!child.isOver) return child;
    }
    return new ReadingChild(memoryMb);
  }
  function giveBack(child: ReadingChild): void {
    if (child.isOver) return;
    const retire = () => {
      free.delete(child);
      child.end();
    };
    free.set(child, setTimeout(retire, IDLE_MS).unref());
  }
  async function ask(name: ReadingName, given: unknown): Promise<unknown> {
    const child = take();
    busy.add(child);
    try {
      const sent = await child.ask({ name, given }, timeMs);
      if (sent.kind === "read") return sent.value;
      if (sent.kind === "failed") throw sent.error;
      const { code, issues, what, ...parts } = sent.error;
      throw issues === null ? new TourneyError(code, parts) : new InvalidInput(issues, what ?? "The file");
    } catch (thrown) {
      if (!(thrown instanceof ChildEnded) || thrown.why === "else") throw thrown;
      const most = thrown.why === "time" ? `${timeMs / 1000} s` : `${memoryMb} MB of memory`;
      throw new TooCostly(`took more than ${most}`, thrown);
    } finally {
      busy.delete(child);
      giveBack(child);
    }
  }

  return {
    read: (name, given) => (name === "page" ? pagesInTurn : inTurn)(() => ask(name, given)) as never,
    close() {
      inTurn.clearQueue();
      pagesInTurn.clearQueue();
      for (const [child, timer] of free) {
        clearTimeout(timer);
        child.end();
      }
      free.clear();
      // What is read for nobody would go on for as long as its text makes it.
      for (const child of busy) child.end();
    },
  };
}
