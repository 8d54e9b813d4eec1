import { closeSync, existsSync, fstatSync, openSync, readSync } from "node:fs";

const TAIL_BYTES = 8000;
const TAIL_LINES = 6;

/** The last lines of a log, however long it is. */
export function readTail(path: string): string {
  if (!existsSync(path)) return "";
  const file = openSync(path, "r");
  try {
    const { size } = fstatSync(file);
    const bytes = Buffer.alloc(Math.min(size, TAIL_BYTES));
    readSync(file, bytes, 0, bytes.length, size - bytes.length);
    return bytes.toString("utf8").trim().split("\n").slice(-TAIL_LINES).join("\n");
  } finally {
    closeSync(file);
  }
}
