import { KINDS, type PromptDefinition, type Recipe, type Wording } from "../contract/index.js";
import { toCanonicalJson } from "./canonical-json.js";

/** What models are sent for a prompt: all that the bytes of a request depend on, and nothing else. */
export function wordingOf(prompt: PromptDefinition): Wording {
  const { text, turns, starterFiles, rules, viewport, kind } = prompt;
  return {
    text: text.trim(),
    turns: turns.map((turn) => ({ text: turn.text.trim() })),
    starterFiles,
    rules,
    viewport,
    // A drawing may be SVG as well as HTML, and models are told so. No other kind shows in a request.
    form:
      rules.language === "svg" ? "svg" : KINDS[kind].mayBeSvg && rules.language === undefined ? "html or svg" : "html",
  };
}

/** How a page for a prompt is recorded. The kind is part of it: it decides which inputs are tried where no walkthrough says. */
export function recipeOf(prompt: PromptDefinition): Recipe {
  const { kind, viewport, furtherViewports, seconds, motion, walkthrough } = prompt;
  return { kind, viewport, furtherViewports, seconds, motion, walkthrough };
}

/** What people are told of a prompt. */
const briefingOf = ({ title, summary, watchpoints, tags, variantOf }: PromptDefinition) => ({
  title,
  summary,
  watchpoints,
  tags,
  variantOf,
});

/** The three parts of a prompt as canonical JSON: equal texts, equal parts. */
export const partsOf = (prompt: PromptDefinition) => ({
  wording: toCanonicalJson(wordingOf(prompt)),
  recipe: toCanonicalJson(recipeOf(prompt)),
  briefing: toCanonicalJson(briefingOf(prompt)),
});

/** Pairs of prompts that send models the same request. Their answers could not be told apart. */
export function findSameWordings(prompts: readonly PromptDefinition[]): [firstKey: string, secondKey: string][] {
  const first = new Map<string, string>();
  return prompts.flatMap((prompt) => {
    const { wording } = partsOf(prompt);
    const known = first.get(wording);
    if (known !== undefined) return [[known, prompt.key] as [string, string]];
    first.set(wording, prompt.key);
    return [];
  });
}
