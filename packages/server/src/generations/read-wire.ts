import { TextDecoder } from "node:util";
import type { ReachedProtocol } from "@tourney/core/contract";
import { createParser } from "eventsource-parser";

/** What was seen of an answer on its way, whatever became of it. */
export interface Wire {
  request: unknown;
  headers: Record<string, string>;
  text: string;
  reasoning: string;
  /** Whether the endpoint gave a reason for ending. */
  isFinished: boolean;
  /** Set when the answer was ended because of what came, with why. */
  stopped: Error | null;
}

/** The endpoint sent an error with a status that says that all is well. */
export class SaidError extends Error {
  override readonly name = "SaidError";

  constructor(readonly said: unknown) {
    super("the endpoint sent an error");
  }
}

/** What came is not of the protocol at all. */
export class NoAnswerCame extends Error {
  override readonly name = "NoAnswerCame";
}

/** Longer answers are no pages; a stream that never ends is cut here. */
export const LONGEST_ANSWER = 4_000_000;
/** One event of a stream, line breaks included, that is longer than this is not one. */
const LONGEST_EVENT_BYTES = 8_000_000;

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/**
 * A response as its protocol has it, made of what services send in its place: a whole answer instead of a stream, usage that is in no place or
 * no number, an end without a reason, errors with a good status. Nothing is asked again for any of it.
 */
export async function readWire(response: Response, protocol: ReachedProtocol, wire: Wire): Promise<Response> {
  const { body } = response;
  if (body === null) return response;
  const reader = body.getReader();
  const decoder = new TextDecoder();
  let begun = "";
  // What it is shows in its first letter; a service may send white space until it has something to say.
  for (;;) {
    const { done, value } = await reader.read();
    begun += decoder.decode(value, { stream: !done });
    if (done || begun.trim() !== "" || begun.length > LONGEST_EVENT_BYTES) break;
  }
  const first = begun.trimStart()[0];
  const mend = createMend(protocol, wire);
  const headers = { "Content-Type": "text/event-stream" };
  if (first === "<") {
    await reader.cancel();
    throw new NoAnswerCame("The answer is a web page, not an answer of the protocol.");
  }
  if (first === "{") {
    const whole = parse(await readRest(reader, decoder, begun));
    if (!isObject(whole)) throw new NoAnswerCame(`The answer cannot be read: ${begun.slice(0, 200)}`);
    return new Response(streamOf(whole, protocol).map(mend).join(""), { headers });
  }
  return new Response(streamOn(reader, decoder, begun, { mend, wire }), { headers });
}

type Reader = ReadableStreamDefaultReader<Uint8Array>;

async function readRest(reader: Reader, decoder: TextDecoder, begun: string): Promise<string> {
  let text = begun;
  for (;;) {
    const { done, value } = await reader.read();
    text += decoder.decode(value, { stream: !done });
    if (done) return text;
    if (text.length > 2 * LONGEST_ANSWER) {
      await reader.cancel();
      throw new NoAnswerCame(`the answer does not end after ${2 * LONGEST_ANSWER} characters`);
    }
  }
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return null;
  }
}

interface Event {
  name: string | undefined;
  data: string;
}

const write = ({ name, data }: Event): string => `${name === undefined ? "" : `event: ${name}\n`}data: ${data}\n\n`;

/** The events that a service would have sent, had it streamed what it sent whole. @throws SaidError, NoAnswerCame */
function streamOf(whole: Json, protocol: ReachedProtocol): Event[] {
  if (whole["error"] !== undefined && whole["error"] !== null) throw new SaidError(whole);
  if (protocol === "messages") {
    if (!Array.isArray(whole["content"])) throw notAnAnswer(whole);
    const event = (type: string, fields: Json): Event => ({ name: type, data: JSON.stringify({ type, ...fields }) });
    const usage = isObject(whole["usage"]) ? whole["usage"] : {};
    return [
      event("message_start", { message: { ...whole, content: [], stop_reason: null } }),
      ...textParts(whole["content"]).flatMap((text, index) => [
        event("content_block_start", { index, content_block: { type: "text", text: "" } }),
        event("content_block_delta", { index, delta: { type: "text_delta", text } }),
        event("content_block_stop", { index }),
      ]),
      event("message_delta", { delta: { stop_reason: whole["stop_reason"] ?? null, stop_sequence: null }, usage }),
      event("message_stop", {}),
    ];
  }
  const [choice] = Array.isArray(whole["choices"]) ? (whole["choices"] as unknown[]) : [];
  const message = isObject(choice) ? choice["message"] : undefined;
  if (!isObject(choice) || !isObject(message)) throw notAnAnswer(whole);
  const content = Array.isArray(message["content"]) ? textParts(message["content"]).join("") : message["content"];
  const { usage, ...rest } = whole;
  const event = (fields: Json): Event => ({ name: undefined, data: JSON.stringify({ ...rest, ...fields }) });
  return [
    event({ choices: [{ index: 0, delta: { ...message, content }, finish_reason: null }] }),
    event({ choices: [{ index: 0, delta: {}, finish_reason: choice["finish_reason"] ?? null }] }),
    ...(usage === undefined ? [] : [event({ choices: [], usage })]),
    { name: undefined, data: DONE },
  ];
}

const DONE = "[DONE]";

const textParts = (parts: readonly unknown[]): string[] =>
  parts.flatMap((part) => (isObject(part) && typeof part["text"] === "string" ? [part["text"]] : []));

const notAnAnswer = (whole: Json) =>
  new NoAnswerCame(`There is no answer in what came: ${JSON.stringify(whole).slice(0, 200)}`);

/** The rest of a stream, event by event, ended with the error that is among them. */
function streamOn(
  reader: Reader,
  decoder: TextDecoder,
  begun: string,
  { mend, wire }: { mend: Mend; wire: Wire },
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let out = "";
  let sinceEvent = 0;
  const parser = createParser({
    onEvent: ({ event, data }) => {
      sinceEvent = 0;
      out += mend({ name: event, data });
    },
    // It comes with the connection, and says nothing of the answer.
    onRetry: () => undefined,
  });
  const feed = (text: string) => {
    sinceEvent += text.length;
    parser.feed(text);
    if (sinceEvent > LONGEST_EVENT_BYTES) throw new Error("the endpoint sends without ever ending an event");
  };
  const stop = (controller: ReadableStreamDefaultController<Uint8Array>, error: Error) => {
    wire.stopped = error;
    controller.error(error);
    void reader.cancel().catch(() => undefined);
  };
  /** Reads until there is something to hand on. @returns whether nothing more comes. */
  const readEvent = async (): Promise<boolean> => {
    while (out === "") {
      const { done, value } = await reader.read();
      if (done) {
        parser.reset({ consume: true });
        return true;
      }
      feed(decoder.decode(value, { stream: true }));
    }
    return false;
  };
  return new ReadableStream({
    start(controller) {
      try {
        feed(begun);
      } catch (error) {
        stop(controller, error as Error);
      }
    },
    async pull(controller) {
      try {
        const isAtEnd = await readEvent();
        if (out !== "") controller.enqueue(encoder.encode(out));
        out = "";
        if (isAtEnd) controller.close();
      } catch (error) {
        stop(controller, error as Error);
      }
    },
    cancel: (reason) => reader.cancel(reason),
  });
}

/** Writes an event as the protocol has it; an empty text for one that is left out. @throws SaidError */
type Mend = (event: Event) => string;

function createMend(protocol: ReachedProtocol, wire: Wire): Mend {
  if (protocol === "messages") return (event) => noteMessages(event, wire);
  let isDone = false;
  return (event) => {
    if (isDone) return "";
    if (event.data.trim() === DONE) {
      isDone = true;
      // The endpoint sent its end marker, so the answer is complete even without a finish reason.
      const reason = wire.isFinished ? "" : write({ name: undefined, data: endOf("done") });
      return `${reason}${write(event)}`;
    }
    const piece = parse(event.data);
    if (!isObject(piece)) return write(event);
    if (piece["error"] !== undefined && piece["error"] !== null) {
      if (wire.isFinished) return "";
      throw new SaidError(piece);
    }
    return write({ name: undefined, data: JSON.stringify(mendPiece(piece, wire)) });
  };
}

const endOf = (reason: string): string =>
  JSON.stringify({
    id: "end",
    object: "chat.completion.chunk",
    created: 0,
    choices: [{ index: 0, delta: {}, finish_reason: reason }],
  });

/** A piece of a chat-completions stream with a list of choices, usage in numbers or none, and no empty reason. */
function mendPiece(piece: Json, wire: Wire): Json {
  const choices = Array.isArray(piece["choices"]) ? (piece["choices"] as unknown[]) : [];
  const mended = choices.map((choice) => {
    if (!isObject(choice)) return choice;
    const delta = isObject(choice["delta"]) ? choice["delta"] : {};
    if (typeof delta["content"] === "string") wire.text += delta["content"];
    const thought = delta["reasoning_content"] ?? delta["reasoning"];
    if (typeof thought === "string") wire.reasoning += thought;
    const reason = choice["finish_reason"];
    const hasReason = typeof reason === "string" && reason !== "";
    if (hasReason) wire.isFinished = true;
    return { ...choice, finish_reason: hasReason ? reason : null };
  });
  const { usage, ...rest } = piece;
  return { ...rest, choices: mended, ...(isUsage(usage) ? { usage } : {}) };
}

/** Counts are numbers; what is in words is none that can be relied on. */
const isUsage = (usage: unknown): boolean =>
  isObject(usage) &&
  ["prompt_tokens", "completion_tokens"].every((name) => usage[name] === undefined || typeof usage[name] === "number");

function noteMessages(event: Event, wire: Wire): string {
  const piece = parse(event.data);
  if (isObject(piece)) {
    if (piece["type"] === "error") throw new SaidError(piece);
    const delta = isObject(piece["delta"]) ? piece["delta"] : {};
    if (typeof delta["text"] === "string") wire.text += delta["text"];
    if (typeof delta["thinking"] === "string") wire.reasoning += delta["thinking"];
    if (typeof delta["stop_reason"] === "string") wire.isFinished = true;
  }
  return write(event);
}
