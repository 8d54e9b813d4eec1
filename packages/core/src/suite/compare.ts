import type { PromptDefinition, PromptPart, SuiteDefinition, SuiteDifference } from "../contract/index.js";
import { toCanonicalJson } from "./canonical-json.js";
import { partsOf } from "./prompt-parts.js";

/** A suite as far as two editions of it can differ. */
export type ComparedSuite = Pick<SuiteDefinition, "title" | "description" | "sample" | "mendTemplate"> & {
  prompts: readonly PromptDefinition[];
};

const LONGEST_SHOWN = 4000;

const show = (value: unknown): string =>
  (value === undefined
    ? ""
    : typeof value === "string"
      ? value
      : JSON.stringify(value, null, 1).replace(/\n\s*/g, " ")
  ).slice(0, LONGEST_SHOWN);

function compareMembers(before: object, after: object): SuiteDifference["head"] {
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])];
  return keys.flatMap((field) => {
    const [a, b] = [(before as Record<string, unknown>)[field], (after as Record<string, unknown>)[field]];
    const isSame = a === undefined || b === undefined ? a === b : toCanonicalJson(a) === toCanonicalJson(b);
    return isSame ? [] : [{ field, before: show(a), after: show(b) }];
  });
}

/** What changed from one edition to another: prompts added, removed, moved, and those changed member by member. */
export function compareSuites(before: ComparedSuite, after: ComparedSuite): SuiteDifference {
  const old = new Map(before.prompts.map((prompt) => [prompt.key, prompt]));
  const keys = (suite: ComparedSuite) => suite.prompts.map(({ key }) => key);
  const wordings = new Set(before.prompts.map((prompt) => partsOf(prompt).wording));
  const [oldKeys, newKeys] = [keys(before), keys(after)];
  const kept = oldKeys.filter((key) => newKeys.includes(key));
  const head = ({ title, description, sample, mendTemplate }: ComparedSuite) => ({
    title,
    description,
    sample,
    mendTemplate,
  });
  return {
    head: compareMembers(head(before), head(after)),
    added: newKeys.filter((key) => !old.has(key)),
    removed: oldKeys.filter((key) => !newKeys.includes(key)),
    reordered: kept.join("\n") !== newKeys.filter((key) => old.has(key)).join("\n"),
    changed: after.prompts.flatMap((prompt) => {
      const was = old.get(prompt.key);
      const fields = was === undefined ? [] : compareMembers(was, prompt);
      if (was === undefined || fields.length === 0) return [];
      return [{ key: prompt.key, title: prompt.title, fields, parts: findChangedParts(was, prompt) }];
    }),
    kept: after.prompts.filter((prompt) => wordings.has(partsOf(prompt).wording)).length,
  };
}

function findChangedParts(before: PromptDefinition, after: PromptDefinition): PromptPart[] {
  const [was, is] = [partsOf(before), partsOf(after)];
  return (["wording", "recipe", "briefing"] as const).filter((part) => was[part] !== is[part]);
}

/** Whether nothing differs. */
export const isSameSuite = ({ head, added, removed, reordered, changed }: SuiteDifference): boolean =>
  head.length + added.length + removed.length + changed.length === 0 && !reordered;
