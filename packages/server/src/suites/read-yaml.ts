import { TourneyError } from "@tourney/core/errors";
import { isNode, LineCounter, parseDocument } from "yaml";
import type * as z from "zod";
import { InvalidInput, listIssues } from "../http/parse-input.js";

/**
 * Reads a YAML file by a schema; every issue is given with its line.
 * @param what names the file in errors, as in "The suite file".
 * @throws TourneyError INVALID_FILE for what is not YAML, InvalidInput for what does not match.
 */
export function readYaml<Schema extends z.ZodType>(schema: Schema, text: string, what: string): z.output<Schema> {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, maxAliasCount: 20 } as Parameters<
    typeof parseDocument
  >[1]);
  const syntax = document.errors[0];
  if (syntax) {
    throw new TourneyError("INVALID_FILE", {
      message: `${what} is not valid YAML.`,
      reason: syntax.message.split("\n")[0]!,
      remedy: "Correct the line that is named. Nothing was changed.",
      cause: syntax,
    });
  }
  const parsed = schema.safeParse(toValue(document, what));
  if (parsed.success) return parsed.data;
  const located = listIssues(parsed.error).map(({ path, message }) => {
    const keys = path.split(".").filter((key) => key !== "");
    const line = findLine(document, lines, keys);
    return { path: `${line === null ? "" : `line ${line}, `}${path}`, message };
  });
  throw new InvalidInput(located, what);
}

function toValue(document: ReturnType<typeof parseDocument>, what: string): unknown {
  try {
    return document.toJS({ maxAliasCount: 20 });
  } catch (cause) {
    throw new TourneyError("INVALID_FILE", {
      message: `${what} uses too many aliases.`,
      reason: "A few lines of YAML can stand for gigabytes by repeating aliases.",
      remedy: "Write the repeated parts out.",
      cause,
    });
  }
}

/** The 1-based line of the value at a path, or of its nearest parent that is there. */
function findLine(
  document: ReturnType<typeof parseDocument>,
  lines: LineCounter,
  keys: readonly string[],
): number | null {
  for (let depth = keys.length; depth >= 0; depth--) {
    const path = keys.slice(0, depth).map((key) => (/^\d+$/.test(key) ? Number(key) : key));
    const node: unknown = depth === 0 ? document.contents : document.getIn(path, true);
    if (isNode(node) && node.range) return lines.linePos(node.range[0]).line;
  }
  return null;
}
