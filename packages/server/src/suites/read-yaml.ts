import { TourneyError } from "@tourney/core/errors";
import { parseYaml } from "@tourney/core/suite";
import type * as z from "zod";
import { InvalidInput } from "../http/invalid-input.js";

/**
 * Reads a YAML file by a schema.
 * @param what names the file in errors, as in "The suite file".
 * @throws TourneyError INVALID_FILE for what is not YAML, InvalidInput with each issue and its line for what does not match.
 */
export function readYaml<Schema extends z.ZodType>(schema: Schema, text: string, what: string): z.output<Schema> {
  const parsed = parseYaml(schema, text);
  if (parsed.ok) return parsed.value;
  if (parsed.why === "size") {
    throw new TourneyError("TOO_LARGE", {
      message: `${what} ${parsed.issues[0]!.message}.`,
      reason: `It has ${text.length} characters.`,
      remedy: "Check that it is the file you mean. Nothing was changed.",
    });
  }
  if (parsed.why === "syntax") {
    throw new TourneyError("INVALID_FILE", {
      message: `${what} is not valid YAML.`,
      reason: parsed.issues[0]!.message,
      remedy: "Correct the line that is named. Nothing was changed.",
    });
  }
  if (parsed.why === "aliases") {
    throw new TourneyError("INVALID_FILE", {
      message: `${what} uses too many aliases.`,
      reason: "A few lines of YAML can stand for gigabytes by repeating aliases.",
      remedy: "Write the repeated parts out.",
    });
  }
  const located = parsed.issues.map(({ path, message, line }) => ({
    path: `${line === null ? "" : `line ${line}, `}${path}`,
    message,
  }));
  throw new InvalidInput(located, what);
}
