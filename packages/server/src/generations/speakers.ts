import { createAnthropic } from "@ai-sdk/anthropic";
import { createOpenAICompatible } from "@ai-sdk/openai-compatible";
import type { LanguageModelV3 } from "@ai-sdk/provider";
import type { ReachedProtocol, Settings } from "@tourney/core/contract";

interface Connection {
  /** Without a slash at its end. */
  baseURL: string;
  key: string | null;
  fetch: typeof fetch;
}

/** All that differs between protocols when a request is sent. */
interface Speaker {
  open: (model: string, connection: Connection) => LanguageModelV3;
  /** Members of the request's body that tell a model to reason, or not to. */
  reasoningMembers: (settings: Settings) => Record<string, unknown>;
}

/** How each protocol is spoken. One more does not compile until it is here. */
export const SPEAKERS: Readonly<Record<ReachedProtocol, Speaker>> = {
  "chat-completions": {
    open: (model, { key, ...connection }) =>
      createOpenAICompatible({
        ...connection,
        name: "endpoint",
        includeUsage: true,
        ...(key === null ? {} : { apiKey: key }),
      })(model),
    reasoningMembers: ({ reasoningEffort, reasoningBudget }) => ({
      ...(reasoningEffort === undefined ? {} : { reasoning_effort: reasoningEffort }),
      ...(reasoningBudget === undefined ? {} : { reasoning: { max_tokens: reasoningBudget } }),
    }),
  },
  messages: {
    open: (model, { key, ...connection }) => createAnthropic({ ...connection, apiKey: key ?? "none" })(model),
    reasoningMembers: ({ reasoningEffort, reasoningBudget }) => {
      if (reasoningBudget === 0 || reasoningEffort === "none") return { thinking: { type: "disabled" } };
      if (reasoningBudget !== undefined) return { thinking: { type: "enabled", budget_tokens: reasoningBudget } };
      return reasoningEffort === undefined ? {} : { output_config: { effort: reasoningEffort } };
    },
  },
};
