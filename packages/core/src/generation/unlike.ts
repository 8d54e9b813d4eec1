import type { EntrantInput } from "../contract/index.js";

type Compared = Pick<EntrantInput, "key" | "name" | "model" | "settings" | "endpoint">;

/** A way in which entrants of one run are not alike, which may make their comparison unfair. */
export interface Unlikeness {
  setting: "reasoning" | "systemPrompt" | "host" | "temperature" | "topP" | "maxTokens" | "extra";
  message: string;
}

const isReasoning = ({ settings }: Compared): "on" | "off" | "default" => {
  const { reasoningEffort, reasoningBudget } = settings;
  if (reasoningEffort === "none" || reasoningBudget === 0) return "off";
  return reasoningEffort !== undefined || reasoningBudget !== undefined ? "on" : "default";
};
const hostOf = ({ endpoint }: Compared): string =>
  endpoint.protocol === "by-hand" ? "by hand" : endpoint.baseUrl.replace(/^https?:\/\//, "").split("/")[0]!;
const names = (entrants: readonly Compared[]) => entrants.map(({ name }) => name).join(", ");

/** Groups by a value; each group keeps the order of the entrants. */
function group<T>(entrants: readonly Compared[], valueOf: (entrant: Compared) => T): Map<T, Compared[]> {
  const groups = new Map<T, Compared[]>();
  for (const entrant of entrants) groups.set(valueOf(entrant), [...(groups.get(valueOf(entrant)) ?? []), entrant]);
  return groups;
}

/** Everything in which the entrants of a run differ that people tend to overlook. Entrants reached by hand have no settings to compare. */
export function findUnlikeness(all: readonly Compared[]): Unlikeness[] {
  const entrants = all.filter(({ endpoint }) => endpoint.protocol !== "by-hand");
  const found: Unlikeness[] = [];
  const reasoning = group(entrants, isReasoning);
  if (reasoning.size > 1) {
    const parts = [...reasoning].map(
      ([state, list]) => `${state === "default" ? "left to the endpoint" : state} for ${names(list)}`,
    );
    found.push({ setting: "reasoning", message: `Reasoning is ${parts.join("; ")}.` });
  }
  const prompted = group(entrants, ({ settings }) => settings.systemPrompt ?? "");
  if (prompted.size > 1) {
    const parts = [...prompted].filter(([text]) => text !== "").map(([, list]) => names(list));
    found.push({
      setting: "systemPrompt",
      message: `A system prompt is set for ${parts.join("; another for ")}, and not alike for all.`,
    });
  }
  for (const [model, list] of group(entrants, ({ model }) => model)) {
    if (new Set(list.map(hostOf)).size > 1)
      found.push({
        setting: "host",
        message: `${model} is reached through different hosts: ${list.map((entrant) => `${entrant.name} at ${hostOf(entrant)}`).join(", ")}.`,
      });
  }
  for (const setting of ["temperature", "topP", "maxTokens"] as const) {
    const values = group(entrants, ({ settings }) => settings[setting]);
    if (values.size < 2) continue;
    const parts = [...values].map(([value, list]) => `${value ?? "unset"} for ${names(list)}`);
    found.push({
      setting,
      message: `${{ temperature: "Temperature", topP: "Top-p", maxTokens: "The token limit" }[setting]} is ${parts.join("; ")}.`,
    });
  }
  const extras = group(entrants, ({ settings }) => JSON.stringify(settings.extra ?? {}));
  if (extras.size > 1) {
    const parts = [...extras].filter(([json]) => json !== "{}").map(([, list]) => names(list));
    found.push({
      setting: "extra",
      message: `Extra members are sent for ${parts.join("; others for ")}, and not alike for all.`,
    });
  }
  return found;
}
