import type { PromptDefinition } from "../contract/index.js";

/**
 * The user message sent for a prompt: its text, then its rules in words. Every entrant gets the same message, so the
 * rules are spelled out here once and not in each prompt's text.
 */
export function composeRequestText(prompt: Pick<PromptDefinition, "text" | "rules" | "viewport" | "kind">): string {
  const { rules, viewport, kind } = prompt;
  const isEither = kind === "drawing" && rules.language === undefined;
  const form = rules.language === "svg" ? "one SVG file" : isEither ? "one HTML or SVG file" : "one HTML file";
  const lines = [
    rules.singleFile
      ? `Answer with ${form} that holds everything it needs, in a fenced code block.`
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
  return `${prompt.text.trim()}\n\n${lines.join("\n")}\n`;
}
