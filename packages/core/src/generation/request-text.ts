import type { Wording } from "../contract/index.js";

/**
 * The user message sent for a prompt: its text, its rules in words, then each starter file, named and fenced. Every entrant
 * gets the same message, so the rules are spelled out here once and not in each prompt's text.
 */
export function composeRequestText({ text, rules, viewport, form, starterFiles }: Wording): string {
  const lines = [
    rules.singleFile
      ? `Answer with ${FORM_WORDS[form]} that holds everything ${starterFiles.length > 0 ? "else " : ""}it needs, in a fenced code block.`
      : "Answer with every file in its own fenced code block, its name before it.",
    rules.libraries === "forbidden"
      ? "Do not use third-party libraries."
      : rules.libraries === "allowed"
        ? "Third-party libraries may be used."
        : Array.isArray(rules.libraries)
          ? `Third-party libraries that may be used: ${rules.libraries.join(", ")}.`
          : `Use ${rules.libraries.use.join(" and ")}, and no other third-party library.`,
    ...(rules.framework === "forbidden" ? ["Do not use a component framework."] : []),
    ...(rules.language === "javascript" ? ["Write scripts in plain JavaScript."] : []),
    `It is shown at ${viewport.width} × ${viewport.height} pixels, without a network connection.`,
  ];
  const parts = [text.trim(), lines.join("\n"), ...describeFiles(starterFiles)];
  return `${parts.join("\n\n")}\n`;
}

const FORM_WORDS: Readonly<Record<Wording["form"], string>> = {
  html: "one HTML file",
  svg: "one SVG file",
  "html or svg": "one HTML or SVG file",
};

function describeFiles(files: Wording["starterFiles"]): string[] {
  if (files.length === 0) return [];
  const head =
    files.length === 1
      ? "This file lies beside the page; the page may load it by its name:"
      : "These files lie beside the page; the page may load them by their names:";
  return [head, ...files.map(({ path, text }) => `${path}\n${fence(text, path)}`)];
}

/** A fence longer than any run of backticks in the text (CommonMark 0.31, 4.5), so that a file cannot end its own. */
function fence(text: string, path: string): string {
  const longest = (text.match(/`+/g) ?? []).reduce((most, run) => Math.max(most, run.length), 2);
  const ticks = "`".repeat(longest + 1);
  const language = /\.(\w+)$/.exec(path)?.[1] ?? "";
  return `${ticks}${language}\n${text}${text.endsWith("\n") ? "" : "\n"}${ticks}`;
}
