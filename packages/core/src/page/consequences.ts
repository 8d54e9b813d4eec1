import type { BlockedRequest, Finding } from "../contract/index.js";
import type { Found, Observed } from "./observed.js";

/** What a script says when something that it was promised is not there. */
const WANTING =
  /^(?:Uncaught )?(?:\(in promise\) )?(?:ReferenceError: .* is not defined|TypeError: (?:Cannot read propert|.* is not (?:a function|a constructor|iterable|defined)|.* of undefined|.* undefined|Class extends value)|(?:TypeError|SyntaxError): .*(?:module specifier|does not provide an export|imported module))/;
/** What it says when an answer of the network does not come. */
const UNANSWERED = /Failed to fetch|NetworkError|Load failed|imported module|broken' state|HTMLImageElement.*broken/;

/** What follows from a script that did not come, besides exceptions. */
const AFTERMATH = new Set<Finding["rule"]>(["blank", "still", "dead_control", "goes_wrong"]);

/**
 * Says of each finding what it follows from, where that is something missing here and not the page's own doing: a library that is not
 * on the shelf, a host that is not reached. Such a finding is a note.
 */
export function tellConsequences(
  found: readonly Found[],
  { blocked }: Pick<Observed, "blocked">,
): (Found & Pick<Finding, "followsFrom">)[] {
  const script = blocked.find(isScript);
  const any = blocked[0];
  const judged = found.map((finding) => {
    if (finding.rule !== "exception") return { finding, cause: null };
    if (script && WANTING.test(finding.message)) return { finding, cause: describeCause(script) };
    if (any && UNANSWERED.test(finding.message)) return { finding, cause: describeCause(any) };
    return { finding, cause: null };
  });
  // An exception of the page's own may have the same effect: then nothing is excused.
  const isOwnFault = judged.some(({ finding, cause }) => finding.rule === "exception" && cause === null);
  return judged.map(({ finding, cause }) => {
    const followsFrom = cause ?? (script && !isOwnFault && AFTERMATH.has(finding.rule) ? describeCause(script) : null);
    return { ...finding, ...(followsFrom === null ? {} : { severity: "note" as const }), followsFrom };
  });
}

const isScript = ({ type, library }: Pick<BlockedRequest, "type" | "library">): boolean =>
  type === "Script" || (library !== null && type !== "Stylesheet" && type !== "Font" && type !== "Image");

const describeCause = ({ url, library }: Pick<BlockedRequest, "url" | "library">): string =>
  library === null ? `${hostOf(url)} is not reached` : `${library} is not on the shelf`;

const hostOf = (url: string): string => /^\w+:\/\/([^/?#]+)/.exec(url)?.[1] ?? url.slice(0, 80);
