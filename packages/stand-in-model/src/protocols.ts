import { randomUUID } from "node:crypto";
import * as z from "zod";
import { type Conversation, countTokens, type Reply } from "./converse.js";
import type { StandInModel } from "./models.js";

/** An error in a protocol's own words. */
export class ProtocolError extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    message: string,
    readonly headers: Record<string, string> = {},
  ) {
    super(message);
  }
}

const TextContent = z.union([z.string(), z.array(z.looseObject({ type: z.string(), text: z.string().optional() }))]);
const textOf = (content: z.infer<typeof TextContent>) =>
  typeof content === "string" ? content : content.map(({ text }) => text ?? "").join("\n");

const ChatRequest = z.looseObject({
  model: z.string(),
  messages: z.array(z.looseObject({ role: z.string(), content: TextContent.nullish() })).min(1),
  stream: z.boolean().nullish(),
  stream_options: z.looseObject({ include_usage: z.boolean().nullish() }).nullish(),
  max_tokens: z.int().positive().nullish(),
  max_completion_tokens: z.int().positive().nullish(),
});

const MessagesRequest = z.looseObject({
  model: z.string(),
  max_tokens: z.int().positive(),
  system: TextContent.nullish(),
  messages: z.array(z.looseObject({ role: z.enum(["user", "assistant"]), content: TextContent })).min(1),
  stream: z.boolean().nullish(),
});

/** One event of a stream, as it goes over the wire. */
type Event = string;

export interface Exchange {
  conversation: Conversation;
  isStream: boolean;
  whole: (reply: Reply) => object;
  /** The events around the text of a stream. */
  opening: (reply: Reply) => Event[];
  piece: (reply: Reply, text: string) => Event;
  closing: (reply: Reply) => Event[];
}

/** A protocol: reads a request's body, and words answers and errors. */
export interface ProtocolDialect {
  path: string;
  read: (body: unknown, findModel: (id: string) => StandInModel) => Exchange;
  error: (error: ProtocolError) => object;
}

function parse<T>(schema: z.ZodType<T>, body: unknown): T {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ProtocolError(400, "invalid_request_error", `${issue.path.join(".")}: ${issue.message}`);
}

const data = (value: unknown) => `data: ${JSON.stringify(value)}\n\n`;
const nowSeconds = () => Math.floor(Date.now() / 1000);

export const CHAT_COMPLETIONS: ProtocolDialect = {
  path: "/v1/chat/completions",
  read(body, findModel) {
    const chat = parse(ChatRequest, body);
    const id = `chatcmpl-${randomUUID()}`;
    const inputTokens = countTokens(JSON.stringify(chat.messages));
    const usage = ({ text }: Reply) => ({
      prompt_tokens: inputTokens,
      completion_tokens: countTokens(text),
      total_tokens: inputTokens + countTokens(text),
    });
    const chunk = ({ reportedModel }: Reply, fields: object) =>
      data({ id, object: "chat.completion.chunk", created: nowSeconds(), model: reportedModel, ...fields });
    const choice = (delta: object, finish_reason: string | null = null) => ({
      choices: [{ index: 0, delta, finish_reason }],
    });
    return {
      conversation: {
        model: findModel(chat.model),
        turns: chat.messages
          .filter(({ role }) => role === "user" || role === "assistant")
          .map(({ role, content }) => ({ role: role as "user" | "assistant", text: textOf(content ?? "") })),
        maxTokens: chat.max_completion_tokens ?? chat.max_tokens ?? null,
      },
      isStream: chat.stream === true,
      whole: (reply) => ({
        id,
        object: "chat.completion",
        created: nowSeconds(),
        model: reply.reportedModel,
        choices: [{ index: 0, message: { role: "assistant", content: reply.text }, finish_reason: reply.end }],
        usage: usage(reply),
      }),
      opening: (reply) => [chunk(reply, choice({ role: "assistant", content: "" }))],
      piece: (reply, text) => chunk(reply, choice({ content: text })),
      closing: (reply) => [
        chunk(reply, choice({}, reply.end)),
        ...(chat.stream_options?.include_usage === true ? [chunk(reply, { choices: [], usage: usage(reply) })] : []),
        "data: [DONE]\n\n",
      ],
    };
  },
  error: ({ message, type }) => ({ error: { message, type, param: null, code: type } }),
};

const event = (type: string, fields: object) => `event: ${type}\n${data({ type, ...fields })}`;
const stopReason = ({ end }: Reply) => (end === "length" ? "max_tokens" : "end_turn");

export const MESSAGES: ProtocolDialect = {
  path: "/v1/messages",
  read(body, findModel) {
    const request = parse(MessagesRequest, body);
    const id = `msg_${randomUUID().replaceAll("-", "")}`;
    const inputTokens = countTokens(JSON.stringify(request.messages) + textOf(request.system ?? ""));
    const message = ({ reportedModel }: Reply, fields: object) => ({
      id,
      type: "message",
      role: "assistant",
      model: reportedModel,
      content: [],
      stop_reason: null,
      stop_sequence: null,
      usage: { input_tokens: inputTokens, output_tokens: 1 },
      ...fields,
    });
    return {
      conversation: {
        model: findModel(request.model),
        turns: request.messages.map(({ role, content }) => ({ role, text: textOf(content) })),
        maxTokens: request.max_tokens,
      },
      isStream: request.stream === true,
      whole: (reply) =>
        message(reply, {
          content: [{ type: "text", text: reply.text }],
          stop_reason: stopReason(reply),
          usage: { input_tokens: inputTokens, output_tokens: countTokens(reply.text) },
        }),
      opening: (reply) => [
        event("message_start", { message: message(reply, {}) }),
        event("content_block_start", { index: 0, content_block: { type: "text", text: "" } }),
      ],
      piece: (_reply, text) => event("content_block_delta", { index: 0, delta: { type: "text_delta", text } }),
      closing: (reply) => [
        event("content_block_stop", { index: 0 }),
        event("message_delta", {
          delta: { stop_reason: stopReason(reply), stop_sequence: null },
          usage: { output_tokens: countTokens(reply.text) },
        }),
        event("message_stop", {}),
      ],
    };
  },
  error: ({ message, type }) => ({ type: "error", error: { type, message } }),
};
