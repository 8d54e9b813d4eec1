import * as z from "zod";

/** Where and what, of one thing that is wrong with an input. */
export interface InputIssue {
  path: string;
  message: string;
}

/** Zod's issues as paths and sentences; those inside a union are taken from its nearest branch. */
export const listIssues = (error: z.core.$ZodError, prefix = ""): InputIssue[] =>
  error.issues.flatMap((issue) => listIssue(issue, prefix));

function listIssue(issue: z.core.$ZodIssue, prefix: string): InputIssue[] {
  const path = joinPath(prefix, issue.path);
  if (issue.code !== "invalid_union" || issue.errors.length === 0) return [{ path, message: wordIssue(issue) }];
  const nearest = [...issue.errors].sort((a, b) => distanceOf(a) - distanceOf(b))[0]!;
  return nearest.flatMap((inner) => listIssue(inner, path));
}

/** How far an input is from a form that it might have been meant in: the wrong kind of value is further than wrong members. */
const distanceOf = (issues: readonly z.core.$ZodIssue[]): number =>
  issues.reduce((sum, { code, path }) => sum + (code === "invalid_type" && path.length === 0 ? 10 : 1), 0);

const joinPath = (prefix: string, path: readonly PropertyKey[]): string =>
  [prefix, path.join(".")].filter((part) => part !== "").join(".");

const english = z.locales.en().localeError;
const TYPES: Readonly<Record<string, string>> = {
  string: "text",
  number: "a number",
  int: "a whole number",
  boolean: "true or false",
  array: "a list",
  object: "a group of members",
  record: "a group of members",
  undefined: "missing",
  null: "empty",
};
const typeWord = (type: string) => TYPES[type] ?? type;

/** An issue in the words of a form. What a schema words by itself is left as it is. */
export function wordIssue(issue: z.core.$ZodIssue): string {
  const { message } = issue;
  // Zod forgets the input before it hands an issue on, so that this one default cannot be made again to compare.
  const typed = /^Invalid input: expected (\w+), received (\w+)$/.exec(message);
  if (typed) {
    if (typed[1] === "int" && typed[2] === "number") return "must be a whole number";
    const [expected, received] = [typeWord(typed[1]!), typeWord(typed[2]!)];
    return received === "missing" ? "is missing" : `must be ${expected}, and is ${received}`;
  }
  if (message !== defaultMessage(issue)) return message;
  switch (issue.code) {
    case "too_small":
      return wordBound(issue.origin, Number(issue.minimum), { isLeast: true, inclusive: issue.inclusive });
    case "too_big":
      return wordBound(issue.origin, Number(issue.maximum), { isLeast: false, inclusive: issue.inclusive });
    case "invalid_value":
      return `must be ${issue.values.length > 1 ? "one of " : ""}${issue.values.map(String).join(", ")}`;
    case "unrecognized_keys":
      return `has no ${issue.keys.map((key) => `"${key}"`).join(" and no ")}: check the spelling, or take it out`;
    case "invalid_format":
      return issue.format === "url" ? "must be an address, as in http://localhost:9105/v1" : message;
    default:
      return message;
  }
}

function defaultMessage(issue: z.core.$ZodIssue): string | undefined {
  const made = english(issue as z.core.$ZodRawIssue);
  return typeof made === "string" ? made : made?.message;
}

function wordBound(
  origin: string,
  bound: number,
  { isLeast, inclusive }: { isLeast: boolean; inclusive: boolean | undefined },
) {
  if (origin === "string") {
    if (isLeast) return bound === 1 ? "must not be empty" : `needs at least ${bound} characters`;
    return `may have at most ${bound} characters`;
  }
  if (origin === "array") return isLeast ? `needs at least ${bound}` : `may have at most ${bound}`;
  if (inclusive === false) return isLeast ? `must be more than ${bound}` : `must be less than ${bound}`;
  return isLeast ? `must be ${bound} or more` : `must be ${bound} or less`;
}
