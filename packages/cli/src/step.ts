/** Where lines stay, as in a file, progress is told this often. */
const TELL_EVERY_MS = 15_000;

/** Prints one line for a step: its label at once, then how it went. Progress replaces itself on a terminal. */
export async function step<T>(
  label: string,
  work: (progress: (text: string) => void) => Promise<T>,
  describe?: (result: T) => string,
): Promise<T> {
  const isTerminal = process.stderr.isTTY;
  const startedAt = performance.now();
  const write = (text: string, end: string) =>
    process.stderr.write(isTerminal ? `\r\u001b[2K${text}${end}` : `${text}${end}`);
  if (isTerminal) write(`${label} …`, "");
  let toldAt = startedAt;
  try {
    const result = await work((text) => {
      if (isTerminal) write(`${label}: ${text} …`, "");
      else if (performance.now() - toldAt > TELL_EVERY_MS) {
        toldAt = performance.now();
        write(`${label}: ${text}`, "\n");
      }
    });
    const seconds = (performance.now() - startedAt) / 1000;
    const said = describe?.(result) ?? "";
    write(
      `${label}${said === "" ? "" : `: ${said}`} (${seconds < 10 ? seconds.toFixed(1) : Math.round(seconds)} s)`,
      "\n",
    );
    return result;
  } catch (error) {
    write(`${label}: failed`, "\n");
    throw error;
  }
}

/** One plain line. */
export function say(text: string): void {
  process.stderr.write(`${text}\n`);
}
