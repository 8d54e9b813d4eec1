import { ReadingChild } from "../src/reading/child.js";

/** A server that is killed while it has something read that takes long: it tells which process reads it. */
const lines = (letter: string) => Array.from({ length: 200_000 }, (_, line) => `${letter}${line}`).join("\n");
const child = new ReadingChild(700);
void child
  .ask({ name: "compareFiles", given: [{ path: "a.txt", before: lines("a"), text: lines("b") }] }, 600_000)
  .catch(() => undefined);
setTimeout(() => process.send!(child.pid), 3000);
setInterval(() => undefined, 1000);
