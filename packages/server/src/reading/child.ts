import type { ChildProcess } from "node:child_process";
import { forkProgram } from "../fork-program.js";
import type { Asked, Sent } from "./reading-child.js";

/** Characters of a child's stderr that are kept: Node writes there when its heap is full. */
const LAST_WORDS = 20_000;

/** The process ended before it had answered. */
export class ChildEnded extends Error {
  constructor(
    readonly why: "time" | "memory" | "else",
    lastWords: string,
  ) {
    super(`The reading process ended (${why}). ${lastWords.slice(0, 2000)}`);
  }
}

/** A process that reads one thing at a time, and can be ended at any instant. */
export class ReadingChild {
  private readonly process: ChildProcess;
  private lastWords = "";
  isOver = false;

  /** @param memoryMb what its objects may take */
  constructor(memoryMb: number) {
    this.process = forkProgram(import.meta.url, "reading-child", {
      flags: [`--max-old-space-size=${memoryMb}`],
    });
    this.process.stderr?.on("data", (chunk: Buffer) => {
      this.lastWords = (this.lastWords + chunk.toString("utf8")).slice(-LAST_WORDS);
    });
    this.process.once("exit", () => (this.isOver = true));
    // Also when nothing is asked of it: an error that nobody listens to would end the server.
    this.process.on("error", () => (this.isOver = true));
  }

  get pid(): number | undefined {
    return this.process.pid;
  }

  /** @throws ChildEnded */
  ask(asked: Asked, timeMs: number): Promise<Sent> {
    return new Promise((resolve, reject) => {
      let isLate = false;
      const timer = setTimeout(() => {
        isLate = true;
        this.end();
      }, timeMs);
      const done = (settle: () => void) => {
        clearTimeout(timer);
        this.process.removeAllListeners("message").off("close", onClose).off("error", onError);
        this.process.channel?.unref();
        settle();
      };
      const onError = (error: Error) => done(() => reject(error));
      // Only when all that it said has come.
      const onClose = () => {
        const isFull = /heap limit|heap out of memory|allocation failed/i.test(this.lastWords);
        done(() => reject(new ChildEnded(isLate ? "time" : isFull ? "memory" : "else", this.lastWords)));
      };
      this.process
        .once("message", (sent) => done(() => resolve(sent as Sent)))
        .once("error", onError)
        .once("close", onClose);
      this.process.channel?.ref();
      this.process.send(asked);
    });
  }

  end(): void {
    this.isOver = true;
    this.process.kill("SIGKILL");
  }
}
