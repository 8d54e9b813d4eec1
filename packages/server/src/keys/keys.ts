import { readFileSync } from "node:fs";
import type { ReadKey } from "./key-ring.js";

/** Names that are read from the environment without being listed. */
const KEY_NAME = /_(?:KEY|TOKEN)$/;
/** Tourney's own settings, its secret and its database's password among them, are nobody's key. */
const OWN_NAME = /^TOURNEY_/;

/**
 * Reads keys by the name that an entrant gives: from the environment, or from a file of NAME=value lines whose path is in
 * TOURNEY_KEYS_FILE. Read anew each time, so that a key may be changed without a restart; never kept, logged or stored.
 *
 * An entrants file may come from anybody, and names what is to be sent to an address that it gives, too. So of the environment only what is called a key
 * or a token is read, and what the operator lists in TOURNEY_KEY_NAMES, separated by commas; of the file all, since it is made for keys.
 */
export function createKeyReader(environment: NodeJS.ProcessEnv): ReadKey {
  return (variable) => {
    if (OWN_NAME.test(variable)) return null;
    const listed = (environment["TOURNEY_KEY_NAMES"] ?? "").split(",").map((name) => name.trim());
    const isReadable = KEY_NAME.test(variable) || listed.includes(variable);
    const path = environment["TOURNEY_KEYS_FILE"];
    return (isReadable ? environment[variable] : undefined) ?? (path === undefined ? null : findInFile(path, variable));
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
