import { createOpenAICompatible } from "@ai-sdk/openai-compatible";
import type { Usage } from "@tourney/core/contract";
import { streamText } from "ai";
import { type Answer, CutStream, type EndpointCall, type NoAnswer } from "./endpoint-call.js";
import { explainFailure } from "./explain-failure.js";

/**
 * Sends one message to an endpoint of the chat-completions protocol and reads the stream to its end.
 * A failure is a value, told apart by its cause. Never retries: that is the queue's to do, and to count.
 */
export async function callEndpoint(call: EndpointCall, shutdown: AbortSignal): Promise<Answer | NoAnswer> {
  const limit = AbortSignal.timeout(call.settings.timeoutSeconds * 1000);
  const sentAt = performance.now();
  let request: unknown = null;
  const provider = createOpenAICompatible({
    name: "endpoint",
    baseURL: call.baseUrl.replace(/\/+$/, ""),
    includeUsage: true,
    ...(call.key === null ? {} : { apiKey: call.key }),
    fetch: (input, init) => {
      if (typeof init?.body === "string") request = JSON.parse(init.body);
      return fetch(input, init);
    },
  });
  try {
    return {
      ok: true,
      ...(await readStream(provider(call.model), call, AbortSignal.any([shutdown, limit]), sentAt)),
      request,
    };
  } catch (error) {
    return { ok: false, ...explainFailure(error, { isOverLimit: limit.aborted, call, nowMs: Date.now() }), request };
  }
}

type Model = ReturnType<ReturnType<typeof createOpenAICompatible>>;

async function readStream(model: Model, { settings, text }: EndpointCall, abortSignal: AbortSignal, sentAt: number) {
  const read = { text: "", reasoning: "", finishReason: null as string | null, reportedModel: null as string | null };
  let firstTokenMs: number | null = null;
  let usage: Usage = { inputTokens: null, outputTokens: null };
  const { fullStream } = streamText({
    model,
    messages: [{ role: "user", content: text }],
    maxRetries: 0,
    abortSignal,
    onError: () => undefined,
    ...(settings.systemPrompt === undefined ? {} : { system: settings.systemPrompt }),
    ...(settings.temperature === undefined ? {} : { temperature: settings.temperature }),
    ...(settings.topP === undefined ? {} : { topP: settings.topP }),
    ...(settings.maxTokens === undefined ? {} : { maxOutputTokens: settings.maxTokens }),
    ...(settings.seed === undefined ? {} : { seed: settings.seed }),
  });
  for await (const part of fullStream) {
    if (part.type === "text-delta" || part.type === "reasoning-delta") {
      firstTokenMs ??= performance.now() - sentAt;
      read[part.type === "text-delta" ? "text" : "reasoning"] += part.text;
    } else if (part.type === "finish-step") {
      read.finishReason = part.rawFinishReason ?? null;
      read.reportedModel = part.response.modelId;
      usage = { inputTokens: part.usage.inputTokens ?? null, outputTokens: part.usage.outputTokens ?? null };
    } else if (part.type === "error") {
      throw part.error;
    } else if (part.type === "abort") {
      throw abortSignal.reason;
    }
  }
  if (read.finishReason === null) throw new CutStream("The stream ended before the answer was finished.");
  const round = (ms: number) => Math.round(ms * 10) / 10;
  const timings = {
    firstTokenMs: firstTokenMs === null ? null : round(firstTokenMs),
    totalMs: round(performance.now() - sentAt),
  };
  return { ...read, finishReason: read.finishReason, usage, timings };
}
