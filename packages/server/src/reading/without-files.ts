import type { Extraction } from "@tourney/core/extraction";
import { TooCostly } from "./readers.js";

/** What an answer comes to that was made to cost more than any page does: it stays readable, and its trace says why nothing was taken out. */
export function withoutFiles(thrown: unknown): Extraction {
  if (!(thrown instanceof TooCostly)) throw thrown;
  const trace = [{ part: "answer", action: "noted" as const, why: `taking a page out of it ${thrown.why}` }];
  const nothing = { files: [], missing: [], remote: [], ruleBreaks: [], leaks: [], choices: [] };
  return { verdict: "no_artifact", kind: "none", entry: null, trace, ...nothing };
}
