import type { ServerResponse } from "node:http";
import { ANSWER } from "../scenario.js";

/** What an endpoint does with the nth request for one answer, from 1. */
export type Answer = (response: ServerResponse, attempt: number) => void;

/** One way in which endpoints differ from their own description, and what is right to make of it. */
export interface Habit {
  name: string;
  protocol?: "messages";
  answer: Answer;
  /** Whether the cell is answered in the end, or fails. */
  ends: "answered" | "failed";
  /** How often it may be asked. More would pay again for what is known. */
  requests: number;
  /** Whether the cost was told, has to be estimated, or nothing was billed. */
  cost: "told" | "estimated" | "none";
  /** The endpoint's own words, or ours where it has none, which the lead has to see. */
  says?: RegExp;
  /** What became of it, where that is part of the habit. */
  outcome?: string;
}

export const USAGE = { prompt_tokens: 100, completion_tokens: 200, total_tokens: 300 };
export const PAGE_200 = "<!doctype html><title>Sign in</title><h1>Sign in to continue</h1>";
/** How often a passing failure is tried in these tests. */
export const TRIES = 3;

export const head = (response: ServerResponse, headers: Record<string, string> = {}, status = 200) =>
  response.writeHead(status, { "Content-Type": "text/event-stream", ...headers });
export const event = (data: unknown) => `data: ${typeof data === "string" ? data : JSON.stringify(data)}\n\n`;
export const chunk = (fields: object) => ({
  id: "c",
  object: "chat.completion.chunk",
  created: 1,
  model: "the-model",
  ...fields,
});
export const text = (content: unknown, more: object = {}) =>
  chunk({ choices: [{ index: 0, delta: { content }, finish_reason: null, ...more }] });
export const finish = (reason: string | null = "stop", more: object = {}) =>
  chunk({ choices: [{ index: 0, delta: {}, finish_reason: reason }], ...more });
export const usage = chunk({ choices: [], usage: USAGE });

/** Streams events and ends. */
export const stream =
  (...events: unknown[]): Answer =>
  (response) =>
    void head(response).end(events.map(event).join(""));
export const json =
  (status: number, body: unknown, headers: Record<string, string> = {}): Answer =>
  (response) =>
    void response.writeHead(status, { "Content-Type": "application/json", ...headers }).end(JSON.stringify(body));
export const plain =
  (status: number, body: string, type = "text/plain"): Answer =>
  (response) =>
    void response.writeHead(status, { "Content-Type": type }).end(body);
export const whole = (message: object, more: object = {}, reason = "stop") =>
  json(200, {
    id: "c",
    object: "chat.completion",
    created: 1,
    model: "the-model",
    choices: [{ index: 0, message: { role: "assistant", ...message }, finish_reason: reason }],
    ...more,
  });
/** Fails the first time, and is well after. */
export const once =
  (first: Answer): Answer =>
  (response, attempt) =>
    (attempt === 1 ? first : GOOD)(response, attempt);
/** Sends events, then breaks the connection. */
export const broken =
  (...events: unknown[]): Answer =>
  (response) => {
    head(response).write(events.map(event).join(""));
    setTimeout(() => response.destroy(), 20);
  };

export const GOOD = stream(text(ANSWER), finish(), usage, "[DONE]");
export const LONG_REASONING = "I think about tides. ".repeat(400);

export const said = { requests: 1, ends: "answered", cost: "told" } as const;
export const told = { requests: 1, ends: "failed", cost: "none" } as const;
