import { setTimeout as sleep } from "node:timers/promises";
import express, { type ErrorRequestHandler, type Express, type Response } from "express";
import { CHARACTERS_PER_TOKEN, countTokens, type Reply, Speaker } from "./converse.js";
import { loadExhibits } from "./exhibits.js";
import { MODELS, type StandInModel } from "./models.js";
import { CHAT_COMPLETIONS, type Exchange, MESSAGES, type ProtocolDialect, ProtocolError } from "./protocols.js";

export interface StandInOptions {
  seed: number;
  /** How many times faster than the models' own pace; Infinity for no waiting at all. */
  speed: number;
  /** When given, requests must carry it. */
  key: string | null;
  /** Whether the models' quirks show: busy, refusing, stalling and so on. */
  faults: boolean;
  /** The models; those of the demo scenario unless given. */
  models?: readonly StandInModel[];
}

const TOKENS_PER_CHUNK = 12;
const MOST_CHUNKS_AT_ONCE = 20;

/** An endpoint of both protocols with made-up models. Does not listen. */
export function createStandIn(options: StandInOptions): Express {
  const { models = MODELS } = options;
  const speaker = new Speaker(options, loadExhibits());
  const inFlight = new Map<string, number>();
  const findModel = (id: string): StandInModel => {
    const model = models.find((known) => known.id === id);
    if (model) return model;
    throw new ProtocolError(404, "model_not_found", `The model "${id}" does not exist.`);
  };
  const app = express();
  app.disable("x-powered-by");
  app.use(express.json({ limit: "20mb" }));
  app.use("/v1", (request, _response, next) => {
    const { authorization, "x-api-key": apiKey } = request.headers;
    if (options.key !== null && authorization !== `Bearer ${options.key}` && apiKey !== options.key)
      throw new ProtocolError(401, "invalid_api_key", "Incorrect API key provided.");
    next();
  });
  app.get("/v1/models", (_request, response) => {
    response.json({
      object: "list",
      data: models.map(({ id, name, maker }) => ({
        id,
        object: "model",
        type: "model",
        display_name: name,
        created: 1_767_225_600,
        owned_by: maker,
      })),
    });
  });
  for (const dialect of [CHAT_COMPLETIONS, MESSAGES]) {
    app.post(dialect.path, async (request, response) => {
      const exchange = dialect.read(request.body, findModel);
      const { model } = exchange.conversation;
      const open = inFlight.get(model.id) ?? 0;
      const isOverrun = options.faults && model.mostAtOnce !== undefined && open >= model.mostAtOnce;
      if (isOverrun || speaker.isBusy(exchange.conversation)) throw BUSY();
      inFlight.set(model.id, open + 1);
      try {
        await send(exchange, speaker.answer(exchange.conversation), response, options.speed);
      } finally {
        inFlight.set(model.id, inFlight.get(model.id)! - 1);
      }
    });
  }
  app.use((request) => {
    throw new ProtocolError(404, "not_found", `Unknown request URL: ${request.method} ${request.path}`);
  });
  app.use(sendError);
  return app;
}

const BUSY = () =>
  new ProtocolError(429, "rate_limit_exceeded", "The model is busy. Try again in a moment.", { "Retry-After": "1" });

const wait = (ms: number, speed: number) =>
  Number.isFinite(speed) && ms / speed >= 1 ? sleep(ms / speed) : Promise.resolve();

async function send(exchange: Exchange, reply: Reply, response: Response, speed: number): Promise<void> {
  const { model } = exchange.conversation;
  if (exchange.isStream) await sendStream(exchange, reply, response, speed);
  else {
    await wait(model.firstTokenMs + (countTokens(reply.text) / model.tokensPerSecond) * 1000, speed);
    if (reply.end === "reset") response.destroy();
    else if (reply.end !== "stall") response.json(exchange.whole(reply));
    else await gone(response);
  }
}

async function sendStream(exchange: Exchange, reply: Reply, response: Response, speed: number): Promise<void> {
  const { model } = exchange.conversation;
  response.set({ "Content-Type": "text/event-stream; charset=utf-8", "Cache-Control": "no-cache" });
  const write = (events: readonly string[]) => events.forEach((text) => response.write(text));
  await wait(model.firstTokenMs, speed);
  write(exchange.opening(reply));
  // Sped up, a model sends larger pieces rather than more of them: taking them in costs the other side as much each.
  const size = TOKENS_PER_CHUNK * CHARACTERS_PER_TOKEN * Math.max(1, Math.min(speed, MOST_CHUNKS_AT_ONCE));
  const startedAt = performance.now();
  for (let start = 0; start < reply.text.length && !response.destroyed; start += size) {
    write([exchange.piece(reply, reply.text.slice(start, start + size))]);
    const dueMs = ((start + size) / CHARACTERS_PER_TOKEN / model.tokensPerSecond) * 1000;
    await wait(dueMs - (performance.now() - startedAt) * speed, speed);
  }
  if (reply.end === "reset") response.destroy();
  else if (reply.end === "stall") await gone(response);
  else {
    write(exchange.closing(reply));
    response.end();
  }
}

/** A stalled answer keeps its place until the caller gives up. */
const gone = (response: Response): Promise<void> =>
  new Promise((resolve) => {
    if (response.destroyed) resolve();
    else response.once("close", resolve);
  });

const sendError: ErrorRequestHandler = (error: unknown, request, response, _next) => {
  const known =
    error instanceof ProtocolError
      ? error
      : new ProtocolError(400, "invalid_request_error", error instanceof Error ? error.message : "Bad request");
  const dialect: ProtocolDialect = request.path === MESSAGES.path ? MESSAGES : CHAT_COMPLETIONS;
  response.status(known.status).set(known.headers).json(dialect.error(known));
};
