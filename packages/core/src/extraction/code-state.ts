/** Where a piece of code stands at its end. */
export interface CodeState {
  /** Brackets of any sort that are still open. */
  openBrackets: number;
  /** What the end lies within, if anything. */
  within: "string" | "template" | "comment" | "regex" | null;
}

const REGEX_MAY_FOLLOW = /(?:^|[([{,;=:!&|?+\-*%~^<>]|\b(?:return|typeof|case|in|of|delete|void|throw|new|else|do))$/;

/**
 * Reads a script to its end and says what is still open there. Knows strings, template literals and what is nested in
 * them, comments, and regular expressions as far as they can be told without a grammar. Linear; never throws.
 */
export function scanScript(code: string): CodeState {
  const brackets: string[] = [];
  let significant = "";
  let i = 0;
  const skipTo = (end: number) => (i = end);
  while (i < code.length) {
    const char = code[i]!;
    if (char === "/" && code[i + 1] === "/") {
      const end = code.indexOf("\n", i);
      if (end === -1) return { openBrackets: brackets.length, within: null };
      skipTo(end + 1);
    } else if (char === "/" && code[i + 1] === "*") {
      const end = code.indexOf("*/", i + 2);
      if (end === -1) return { openBrackets: brackets.length, within: "comment" };
      skipTo(end + 2);
    } else if (char === '"' || char === "'") {
      const end = endOfString(code, i);
      if (end === -1) return { openBrackets: brackets.length, within: "string" };
      significant = '"';
      skipTo(end);
    } else if (char === "`" || (char === "}" && brackets.at(-1) === "${")) {
      if (char === "}") brackets.pop();
      const part = endOfTemplatePart(code, i + 1);
      if (part === null) return { openBrackets: brackets.length, within: "template" };
      if (part.isNesting) brackets.push("${");
      significant = part.isNesting ? "(" : '"';
      skipTo(part.end);
    } else if (char === "/" && REGEX_MAY_FOLLOW.test(significant)) {
      const end = endOfRegex(code, i);
      significant = '"';
      skipTo(end ?? i + 1);
    } else {
      if ("([{".includes(char)) brackets.push(char);
      else if (")]}".includes(char)) brackets.pop();
      if (!/\s/.test(char)) significant = /\w/.test(char) ? (significant + char).slice(-8) : char;
      else if (/\w$/.test(significant) && !REGEX_MAY_FOLLOW.test(significant)) significant += " ";
      i++;
    }
  }
  return { openBrackets: brackets.length, within: null };
}

/** Offset behind a quoted string, or -1 when it never ends. A raw line break ends it, as it does for a browser. */
function endOfString(code: string, start: number): number {
  const quote = code[start]!;
  for (let i = start + 1; i < code.length; i++) {
    if (code[i] === "\\") i++;
    else if (code[i] === quote || code[i] === "\n") return i + 1;
  }
  return -1;
}

function endOfTemplatePart(code: string, start: number): { end: number; isNesting: boolean } | null {
  for (let i = start; i < code.length; i++) {
    if (code[i] === "\\") i++;
    else if (code[i] === "`") return { end: i + 1, isNesting: false };
    else if (code[i] === "$" && code[i + 1] === "{") return { end: i + 2, isNesting: true };
  }
  return null;
}

/** Offset behind a regular expression, or null when the slash turns out to be a division. */
function endOfRegex(code: string, start: number): number | null {
  let isInClass = false;
  for (let i = start + 1; i < code.length && code[i] !== "\n"; i++) {
    if (code[i] === "\\") i++;
    else if (code[i] === "[") isInClass = true;
    else if (code[i] === "]") isInClass = false;
    else if (code[i] === "/" && !isInClass) return i + 1;
  }
  return null;
}

/** The same for a style sheet, which has braces, strings and comments only. */
export function scanStyles(code: string): CodeState {
  let openBrackets = 0;
  for (let i = 0; i < code.length; i++) {
    const char = code[i]!;
    if (char === "/" && code[i + 1] === "*") {
      const end = code.indexOf("*/", i + 2);
      if (end === -1) return { openBrackets, within: "comment" };
      i = end + 1;
    } else if (char === '"' || char === "'") {
      const end = endOfString(code, i);
      if (end === -1) return { openBrackets, within: "string" };
      i = end - 1;
    } else if (char === "{") openBrackets++;
    else if (char === "}") openBrackets = Math.max(0, openBrackets - 1);
  }
  return { openBrackets, within: null };
}
