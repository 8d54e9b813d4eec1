import { type Finding, MEND_PLACEHOLDER } from "../contract/index.js";

const MOST_ERRORS = 10;

/**
 * The follow-up that feeds an entry's own errors back, or null when it has none: the suite's template with each error
 * as one line, with file and line where they are known. The same wording for every entrant.
 */
export function composeMendText(
  template: string,
  findings: readonly Pick<Finding, "severity" | "message" | "evidence">[],
): string | null {
  const errors = findings.filter(({ severity }) => severity === "error");
  if (errors.length === 0) return null;
  const lines = [
    ...new Set(errors.map(({ message, evidence }) => `- ${message}${evidence === "" ? "" : ` (${evidence})`}`)),
  ];
  const more = lines.length - MOST_ERRORS;
  const listed = [...lines.slice(0, MOST_ERRORS), ...(more > 0 ? [`- and ${more} more`] : [])];
  return template.replaceAll(MEND_PLACEHOLDER, () => listed.join("\n"));
}
