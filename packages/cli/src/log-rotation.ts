import { copyFileSync, existsSync, renameSync, statSync, truncateSync } from "node:fs";
import { say } from "./step.js";

/** A log over 10 MB is rotated; three old files are kept. */
const LARGEST_BYTES = 10_000_000;
const KEPT = 3;
const LOOK_EVERY_MS = 60_000;

/**
 * Rotates a log: copies it to `.1` and empties it, because the program keeps the file open. A line that the program writes between
 * the copy and the emptying is lost.
 */
export function rotateLog(path: string, largestBytes = LARGEST_BYTES): boolean {
  if (!existsSync(path) || statSync(path).size <= largestBytes) return false;
  for (let n = KEPT - 1; n >= 1; n--) if (existsSync(`${path}.${n}`)) renameSync(`${path}.${n}`, `${path}.${n + 1}`);
  copyFileSync(path, `${path}.1`);
  truncateSync(path);
  return true;
}

/** Looks after logs for as long as we run. @returns ends it. */
export function keepLogsSmall(paths: () => readonly string[]): () => void {
  const look = () => {
    for (const path of paths()) {
      try {
        rotateLog(path);
      } catch (error) {
        // A full disk, as a rule: the log goes on as it is.
        say(`${path} could not be set aside: ${error instanceof Error ? error.message : String(error)}`);
      }
    }
  };
  look();
  const timer = setInterval(look, LOOK_EVERY_MS);
  timer.unref();
  return () => clearInterval(timer);
}
