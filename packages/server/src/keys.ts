import { readFileSync } from "node:fs";
import type { ReadKey } from "./entrants/service.js";

/**
 * Reads keys by the name that an entrant gives: from the environment, or from a file of NAME=value lines whose path is in
 * TOURNEY_KEYS_FILE. Read anew each time, so that a key may be changed without a restart; never kept, logged or stored.
 */
export function createKeyReader(environment: NodeJS.ProcessEnv): ReadKey {
  return (variable) => {
    const path = environment["TOURNEY_KEYS_FILE"];
    return environment[variable] ?? (path === undefined ? null : findInFile(path, variable));
  };
}

function findInFile(path: string, variable: string): string | null {
  let text: string;
  try {
    text = readFileSync(path, "utf8");
  } catch {
    // Without the file the key is not set, which is what the caller says.
    return null;
  }
  const line = text.split(/\r?\n/).find((row) => row.trimStart().startsWith(`${variable}=`));
  const value =
    line
      ?.slice(line.indexOf("=") + 1)
      .trim()
      .replace(/^(["'])(.*)\1$/, "$2") ?? "";
  return value === "" ? null : value;
}

/** Blanks a key in whatever an endpoint said: some repeat the key they were given in their errors. */
export const withoutKey = (text: string, key: string | null): string =>
  key === null || key.length < 4 ? text : text.replaceAll(key, "[key]");
