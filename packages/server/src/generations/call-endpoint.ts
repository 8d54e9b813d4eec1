import type { Settings, Usage } from "@tourney/core/contract";
import { trimEndOf } from "@tourney/core/text-ends";
import type { LanguageModelV3, LanguageModelV3Prompt, LanguageModelV3Usage } from "@ai-sdk/provider";
import { type Answer, CutStream, type EndpointCall, type NoAnswer, type Received, Stalled } from "./endpoint-call.js";
import { withoutKey } from "../keys/keys.js";
import { explainFailure } from "./explain-failure.js";
import type { EndpointFetch } from "./endpoint-fetch.js";
import { LONGEST_ANSWER, NoAnswerCame, readWire, SaidError, type Wire } from "./read-wire.js";
import { SPEAKERS } from "./speakers.js";

const KEPT_HEADERS =
  /^(?:retry-after|date|server|via|x-request-id|request-id|x-ratelimit-.+|.+-ratelimit-.+|.*processing-ms|cf-ray|x-served-by)$/i;

export type OnPart = (text: string) => void;

/**
 * Sends one request to an endpoint and reads the stream to its end. A failure is a value, told apart by its cause, with
 * what came until then. Never retries: that is the run's to do, and to count.
 *
 * @param fetch by which it is asked
 * @param onPart is called with each piece of the answer's text as it arrives.
 */
export async function callEndpoint(
  call: EndpointCall,
  { shutdown, fetch, onPart = () => undefined }: { shutdown: AbortSignal; fetch: EndpointFetch; onPart?: OnPart },
): Promise<Answer | NoAnswer> {
  const sentAt = performance.now();
  const wire: Wire = { request: null, headers: {}, text: "", reasoning: "", isFinished: false, stopped: null };
  const watch = createStallWatch(call.settings, shutdown);
  const read = emptyRead();
  const received = (): Received => ({
    ...read,
    request: wire.request,
    headers: wire.headers,
    totalMs: round(performance.now() - sentAt),
  });
  try {
    await readStream(call, { read, watch, wire, onPart, sentAt, fetch });
    const { finishReason } = read;
    if (finishReason === null) throw new CutStream("The stream ended before the answer was finished.");
    return { ok: true, ...received(), finishReason };
  } catch (thrown) {
    const error = watch.reason() ?? wire.stopped ?? thrown;
    const explained = explainFailure(error, { call, nowMs: Date.now() });
    // Of what was on its way when it broke, more may have come than was read.
    const came = { text: longer(read.text, wire.text), reasoning: longer(read.reasoning, wire.reasoning) };
    return { ok: false, ...received(), ...came, ...explained, message: withoutKey(explained.message, call.key) };
  } finally {
    watch.stop();
  }
}

const longer = (a: string, b: string): string => (b.length > a.length ? b : a);

type Read = Omit<Received, "request" | "headers" | "totalMs">;
const emptyRead = (): Read => ({
  text: "",
  reasoning: "",
  usage: null,
  firstTokenMs: null,
  firstTextMs: null,
  finishReason: null,
  reportedModel: null,
});
const round = (ms: number) => Math.round(ms * 10) / 10;

/** Aborts when nothing comes for longer than the entrant's limits allow, or with the process. */
function createStallWatch({ timeLimits }: Settings, shutdown: AbortSignal) {
  const controller = new AbortController();
  const stall = (message: string) => () => controller.abort(new Stalled(message));
  const { firstTokenSeconds, betweenTokensSeconds, totalSeconds } = timeLimits;
  let timer = setTimeout(stall(`No token came within ${firstTokenSeconds} s.`), firstTokenSeconds * 1000);
  const total = setTimeout(stall(`The answer was not whole within ${totalSeconds} s.`), totalSeconds * 1000);
  return {
    signal: AbortSignal.any([controller.signal, shutdown]),
    onToken(): void {
      clearTimeout(timer);
      timer = setTimeout(stall(`No token came for ${betweenTokensSeconds} s.`), betweenTokensSeconds * 1000);
    },
    reason: (): Stalled | null => (controller.signal.aborted ? (controller.signal.reason as Stalled) : null),
    stop(): void {
      clearTimeout(timer);
      clearTimeout(total);
    },
  };
}

interface Reading {
  read: Read;
  watch: ReturnType<typeof createStallWatch>;
  wire: Wire;
  onPart: OnPart;
  sentAt: number;
  fetch: EndpointFetch;
}

async function readStream(call: EndpointCall, { read, watch, wire, onPart, sentAt, fetch }: Reading): Promise<void> {
  const { settings } = call;
  // The model's own stream, not the SDK's wrapper round it: that keeps every piece until the end, and hundreds run at once.
  const { stream } = await openModel(call, wire, fetch).doStream({
    prompt: toPrompt(call),
    abortSignal: watch.signal,
    ...(settings.temperature === undefined ? {} : { temperature: settings.temperature }),
    ...(settings.topP === undefined ? {} : { topP: settings.topP }),
    ...(settings.maxTokens === undefined ? {} : { maxOutputTokens: settings.maxTokens }),
    ...(settings.seed === undefined ? {} : { seed: settings.seed }),
  });
  for await (const part of stream) {
    switch (part.type) {
      case "text-delta":
      case "reasoning-delta":
        watch.onToken();
        read.firstTokenMs ??= round(performance.now() - sentAt);
        if (part.type === "text-delta") read.firstTextMs ??= round(performance.now() - sentAt);
        read[part.type === "text-delta" ? "text" : "reasoning"] += part.delta;
        if (part.type === "text-delta") onPart(part.delta);
        if (read.text.length + read.reasoning.length > LONGEST_ANSWER)
          throw new Error(`the answer does not end after ${LONGEST_ANSWER} characters`);
        break;
      case "response-metadata":
        read.reportedModel = part.modelId ?? read.reportedModel;
        break;
      case "finish":
        // The protocols know of no ending without a reason; the SDK makes one up for a stream that just stops.
        read.finishReason = part.finishReason.raw ?? null;
        read.usage = toUsage(part.usage);
        break;
      case "error":
        throw part.error;
    }
  }
}

const toPrompt = ({ settings, messages }: EndpointCall): LanguageModelV3Prompt => [
  ...(settings.systemPrompt === undefined ? [] : [{ role: "system" as const, content: settings.systemPrompt }]),
  ...messages.map(({ role, content }) => ({ role, content: [{ type: "text" as const, text: content }] })),
];

const toUsage = ({ inputTokens, outputTokens }: LanguageModelV3Usage): Usage => ({
  inputTokens: toCount(inputTokens.total),
  outputTokens: toCount(outputTokens.total),
  cachedInputTokens: toCount(inputTokens.cacheRead),
  reasoningTokens: toCount(outputTokens.reasoning),
});

/** More tokens than any request has; an endpoint that says so counts wrongly. */
const MOST_TOKENS = 1_000_000_000;

/** What an endpoint counted, or null where that cannot be a count: an answer is not lost because its usage is nonsense. */
const toCount = (count: number | undefined): number | null =>
  count !== undefined && count >= 0 && count <= MOST_TOKENS ? Math.round(count) : null;

const openModel = (
  { protocol, baseUrl, key, model, settings }: EndpointCall,
  wire: Wire,
  fetch: EndpointFetch,
): LanguageModelV3 =>
  SPEAKERS[protocol].open(model, {
    baseURL: trimEndOf(baseUrl, /\//),
    key,
    fetch: (input, init) => send(input, init, { protocol, settings, wire, fetch }),
  });

/** Sends the request as pinned, keeps what was sent and the headers that matter, and reads what comes as the protocol has it. */
async function send(
  input: Parameters<EndpointFetch>[0],
  init: RequestInit | undefined,
  {
    protocol,
    settings,
    wire,
    fetch,
  }: Pick<EndpointCall, "protocol" | "settings"> & { wire: Wire; fetch: EndpointFetch },
): Promise<Response> {
  let body = init?.body;
  if (typeof body === "string") {
    const request = {
      ...(JSON.parse(body) as Record<string, unknown>),
      ...SPEAKERS[protocol].reasoningMembers(settings),
      ...settings.extra,
    };
    wire.request = request;
    body = JSON.stringify(request);
  }
  const response = await fetch(input, { ...init, ...(body === undefined ? {} : { body }) });
  wire.headers = Object.fromEntries([...response.headers].filter(([name]) => KEPT_HEADERS.test(name)));
  if (!response.ok) return response;
  try {
    return await readWire(response, protocol, wire);
  } catch (error) {
    wire.stopped = error instanceof SaidError || error instanceof NoAnswerCame ? error : null;
    throw error;
  }
}
