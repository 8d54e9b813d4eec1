import type * as z from "zod";

/** Where and what, of one thing that is wrong with an input. */
export interface InputIssue {
  path: string;
  message: string;
}

/** Zod's issues as paths and sentences; those inside a union are taken from its nearest branch. */
export function listIssues(error: z.core.$ZodError, prefix = ""): InputIssue[] {
  return error.issues.flatMap((issue) => {
    const path = [prefix, issue.path.join(".")].filter((part) => part !== "").join(".");
    if (issue.code === "invalid_union" && issue.errors.length > 0) {
      const nearest = [...issue.errors].sort(
        (a, b) => b.flatMap((i) => i.path).length - a.flatMap((i) => i.path).length,
      )[0]!;
      return nearest.map((inner) => ({
        path: [path, inner.path.join(".")].filter((part) => part !== "").join("."),
        message: inner.message,
      }));
    }
    return [{ path, message: issue.message }];
  });
}
