import { randomUUID } from "node:crypto";
import { setTimeout as sleep } from "node:timers/promises";
import { createRandom, hashText } from "@tourney/core/random";
import express, { type ErrorRequestHandler, type Express, type Response } from "express";
import * as z from "zod";
import { composeAnswer } from "./compose-answer.js";
import { loadExhibits } from "./exhibits.js";
import { findModel, MODELS, type StandInModel } from "./models.js";

const ChatRequest = z.looseObject({
  model: z.string(),
  messages: z
    .array(
      z.looseObject({
        role: z.string(),
        content: z.union([z.string(), z.array(z.looseObject({ type: z.string(), text: z.string().optional() }))]),
      }),
    )
    .min(1),
  stream: z.boolean().nullish(),
  stream_options: z.looseObject({ include_usage: z.boolean().nullish() }).nullish(),
  max_tokens: z.int().positive().nullish(),
  max_completion_tokens: z.int().positive().nullish(),
});
type ChatRequest = z.infer<typeof ChatRequest>;

export interface StandInOptions {
  seed: number;
  /** How many times faster than the models' own pace; Infinity for no waiting at all. */
  speed: number;
  /** When given, requests must carry it as a bearer token. */
  key: string | null;
  /** Whether models are busy now and then. */
  faults: boolean;
}

/** Four characters a token: the usual rule of thumb for English and code. */
const CHARACTERS_PER_TOKEN = 4;
const TOKENS_PER_CHUNK = 12;

const countTokens = (text: string) => Math.ceil(text.length / CHARACTERS_PER_TOKEN);

class ProtocolError extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    message: string,
    readonly headers: Record<string, string> = {},
  ) {
    super(message);
  }
}

/** An endpoint of the chat-completions protocol with made-up models. Does not listen. */
export function createStandIn(options: StandInOptions): Express {
  const exhibits = loadExhibits();
  const asked = new Map<string, number>();
  const wasBusy = new Set<string>();
  const app = express();
  app.disable("x-powered-by");
  app.use(express.json({ limit: "10mb" }));
  app.use("/v1", (request, _response, next) => {
    if (options.key !== null && request.headers.authorization !== `Bearer ${options.key}`) {
      throw new ProtocolError(401, "invalid_api_key", "Incorrect API key provided.");
    }
    next();
  });
  app.get("/v1/models", (_request, response) => {
    response.json({
      object: "list",
      data: MODELS.map(({ id, maker }) => ({ id, object: "model", created: 1_767_225_600, owned_by: maker })),
    });
  });
  app.post("/v1/chat/completions", async (request, response) => {
    const chat = parseChat(request.body);
    const model = findModel(chat.model);
    if (!model) throw new ProtocolError(404, "model_not_found", `The model "${chat.model}" does not exist.`);
    const text = lastUserText(chat);
    const topic = `${model.id} ${hashText(text)}`;
    if (options.faults && isBusy(topic, model, options.seed) && !wasBusy.has(topic)) {
      wasBusy.add(topic);
      throw new ProtocolError(429, "rate_limit_exceeded", "The model is busy. Try again in a moment.", {
        "Retry-After": "1",
      });
    }
    const sample = asked.get(topic) ?? 0;
    asked.set(topic, sample + 1);
    const answer = limitTokens(composeAnswer({ seed: options.seed, model, text, sample }, exhibits), chat);
    const reply = {
      ...answer,
      model,
      id: `chatcmpl-${randomUUID()}`,
      inputTokens: countTokens(JSON.stringify(chat.messages)),
    };
    if (chat.stream === true) await sendStream(reply, chat, { response, speed: options.speed });
    else await sendWhole(reply, { response, speed: options.speed });
  });
  app.use((request) => {
    throw new ProtocolError(404, "not_found", `Unknown request URL: ${request.method} ${request.path}`);
  });
  app.use(sendError);
  return app;
}

function parseChat(body: unknown): ChatRequest {
  const parsed = ChatRequest.safeParse(body);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ProtocolError(400, "invalid_request_error", `${issue.path.join(".")}: ${issue.message}`);
}

function lastUserText({ messages }: ChatRequest): string {
  const content = messages.findLast(({ role }) => role === "user")?.content ?? "";
  return typeof content === "string" ? content : content.map(({ text }) => text ?? "").join("\n");
}

const isBusy = (topic: string, { busyShare }: StandInModel, seed: number) =>
  createRandom(hashText(`busy ${seed} ${topic}`))() < busyShare;

function limitTokens(text: string, chat: ChatRequest): { text: string; finishReason: "stop" | "length" } {
  const limit = chat.max_completion_tokens ?? chat.max_tokens ?? null;
  if (limit === null || countTokens(text) <= limit) return { text, finishReason: "stop" };
  return { text: text.slice(0, limit * CHARACTERS_PER_TOKEN), finishReason: "length" };
}

interface Reply {
  id: string;
  text: string;
  finishReason: "stop" | "length";
  model: StandInModel;
  inputTokens: number;
}

const usageOf = ({ inputTokens, text }: Reply) => ({
  prompt_tokens: inputTokens,
  completion_tokens: countTokens(text),
  total_tokens: inputTokens + countTokens(text),
});

const wait = (ms: number, speed: number) =>
  Number.isFinite(speed) && ms / speed >= 1 ? sleep(ms / speed) : Promise.resolve();

async function sendWhole(reply: Reply, { response, speed }: { response: Response; speed: number }): Promise<void> {
  const { id, text, finishReason, model } = reply;
  await wait(model.firstTokenMs + (countTokens(text) / model.tokensPerSecond) * 1000, speed);
  response.json({
    id,
    object: "chat.completion",
    created: Math.floor(Date.now() / 1000),
    model: model.id,
    choices: [{ index: 0, message: { role: "assistant", content: text }, finish_reason: finishReason }],
    usage: usageOf(reply),
  });
}

async function sendStream(
  reply: Reply,
  chat: ChatRequest,
  { response, speed }: { response: Response; speed: number },
): Promise<void> {
  const { id, text, finishReason, model } = reply;
  response.set({ "Content-Type": "text/event-stream; charset=utf-8", "Cache-Control": "no-cache" });
  const send = (fields: object) => {
    const chunk = {
      id,
      object: "chat.completion.chunk",
      created: Math.floor(Date.now() / 1000),
      model: model.id,
      ...fields,
    };
    response.write(`data: ${JSON.stringify(chunk)}\n\n`);
  };
  const choice = (delta: object, finish_reason: string | null = null) => ({
    choices: [{ index: 0, delta, finish_reason }],
  });
  await wait(model.firstTokenMs, speed);
  send(choice({ role: "assistant", content: "" }));
  const size = TOKENS_PER_CHUNK * CHARACTERS_PER_TOKEN;
  const startedAt = performance.now();
  for (let start = 0; start < text.length && !response.destroyed; start += size) {
    send(choice({ content: text.slice(start, start + size) }));
    const dueMs = ((start + size) / CHARACTERS_PER_TOKEN / model.tokensPerSecond) * 1000;
    await wait(dueMs - (performance.now() - startedAt) * speed, speed);
  }
  send(choice({}, finishReason));
  if (chat.stream_options?.include_usage === true) send({ choices: [], usage: usageOf(reply) });
  response.end("data: [DONE]\n\n");
}

const sendError: ErrorRequestHandler = (error: unknown, _request, response, _next) => {
  const known =
    error instanceof ProtocolError
      ? error
      : new ProtocolError(400, "invalid_request_error", error instanceof Error ? error.message : "Bad request");
  response
    .status(known.status)
    .set(known.headers)
    .json({ error: { message: known.message, type: known.type, param: null, code: known.type } });
};
