import { gzipSync } from "node:zlib";
import {
  type Habit,
  USAGE,
  head,
  event,
  chunk,
  text,
  finish,
  usage,
  stream,
  whole,
  GOOD,
  LONG_REASONING,
  said,
} from "./wire.js";
import { ANSWER } from "../scenario.js";

/** Of the chat-completions protocol: ways to answer. */
export const ANSWERING: Habit[] = [
  { name: "streams as it should", answer: GOOD, ...said },
  {
    name: "sends the whole answer as JSON although a stream was asked for",
    answer: whole({ content: ANSWER }, { usage: USAGE }),
    ...said,
  },
  {
    name: "sends the whole answer as JSON in parts",
    answer: whole(
      {
        content: [
          { type: "text", text: ANSWER.slice(0, 20) },
          { type: "text", text: ANSWER.slice(20) },
        ],
      },
      { usage: USAGE },
    ),
    ...said,
  },
  {
    name: "sends the whole answer as JSON and no usage",
    answer: whole({ content: ANSWER }),
    ...said,
    cost: "estimated",
  },
  {
    name: "sends the whole answer as JSON under the type of a stream",
    answer: (response) =>
      void head(response).end(
        JSON.stringify({
          id: "c",
          model: "the-model",
          choices: [{ index: 0, message: { role: "assistant", content: ANSWER }, finish_reason: "stop" }],
          usage: USAGE,
        }),
      ),
    ...said,
  },
  {
    name: "sends usage in the last piece",
    answer: stream(text(ANSWER), finish("stop", { usage: USAGE }), "[DONE]"),
    ...said,
  },
  {
    name: "sends usage without choices",
    answer: stream(text(ANSWER), finish(), { id: "c", model: "the-model", usage: USAGE }, "[DONE]"),
    ...said,
  },
  { name: "sends usage before the text", answer: stream(usage, text(ANSWER), finish(), "[DONE]"), ...said },
  {
    name: "sends usage with every piece, growing",
    answer: stream(
      { ...text(ANSWER.slice(0, 30)), usage: { ...USAGE, completion_tokens: 5 } },
      { ...text(ANSWER.slice(30)), usage: { ...USAGE, completion_tokens: 200 } },
      finish("stop", { usage: USAGE }),
      "[DONE]",
    ),
    ...said,
  },
  { name: "sends no usage", answer: stream(text(ANSWER), finish(), "[DONE]"), ...said, cost: "estimated" },
  {
    name: "sends usage that cannot be",
    answer: stream(
      text(ANSWER),
      finish(),
      chunk({ choices: [], usage: { prompt_tokens: -5, completion_tokens: 1e15 } }),
      "[DONE]",
    ),
    ...said,
    cost: "estimated",
  },
  {
    name: "sends usage in words",
    answer: stream(
      text(ANSWER),
      finish(),
      chunk({ choices: [], usage: { prompt_tokens: "100", completion_tokens: "200" } }),
      "[DONE]",
    ),
    ...said,
    cost: "estimated",
  },
  { name: "says DONE and no reason", answer: stream(text(ANSWER), usage, "[DONE]"), ...said },
  { name: "says DONE and an empty reason", answer: stream(text(ANSWER), finish(""), usage, "[DONE]"), ...said },
  { name: "gives a reason and no DONE", answer: stream(text(ANSWER), finish(), usage), ...said },
  { name: "gives its reason twice", answer: stream(text(ANSWER), finish(), finish(), usage, "[DONE]"), ...said },
  { name: "gives a reason of its own", answer: stream(text(ANSWER), finish("eos_token"), usage, "[DONE]"), ...said },
  {
    name: "begins with pieces without text",
    answer: stream(
      chunk({ choices: [{ index: 0, delta: { role: "assistant" }, finish_reason: null }] }),
      text(null),
      text(""),
      text(ANSWER),
      finish(),
      usage,
      "[DONE]",
    ),
    ...said,
  },
  {
    name: "begins with pieces without choices",
    answer: stream(chunk({ choices: [] }), text(ANSWER), finish(), usage, "[DONE]"),
    ...said,
  },
  {
    name: "says that it lives",
    answer: (response) =>
      void head(response).end(
        `: waiting\n\n: waiting\n\n${[text(ANSWER), finish(), usage, "[DONE]"].map(event).join(": still\n\n")}`,
      ),
    ...said,
  },
  {
    name: "ends lines as in the old days",
    answer: (response) =>
      void head(response).end([text(ANSWER), finish(), usage, "[DONE]"].map(event).join("").replaceAll("\n", "\r\n")),
    ...said,
  },
  {
    name: "begins with a byte order mark",
    answer: (response) =>
      void head(response).end(`\uFEFF${[text(ANSWER), finish(), usage, "[DONE]"].map(event).join("")}`),
    ...said,
  },
  {
    name: "names every event",
    answer: (response) =>
      void head(response).end(
        [text(ANSWER), finish(), usage, "[DONE]"].map((one) => `event: message\nid: 1\n${event(one)}`).join(""),
      ),
    ...said,
  },
  {
    name: "leaves out the space",
    answer: (response) =>
      void head(response).end(
        [text(ANSWER), finish(), usage, "[DONE]"].map(event).join("").replaceAll("data: ", "data:"),
      ),
    ...said,
  },
  {
    name: "streams under another type",
    answer: (response) =>
      void head(response, { "Content-Type": "text/plain" }).end(
        [text(ANSWER), finish(), usage, "[DONE]"].map(event).join(""),
      ),
    ...said,
  },
  {
    name: "packs its stream",
    answer: (response) =>
      void head(response, { "Content-Encoding": "gzip" }).end(
        gzipSync([text(ANSWER), finish(), usage, "[DONE]"].map(event).join("")),
      ),
    ...said,
  },
  {
    name: "cuts its stream amid a letter",
    answer: (response) => {
      const bytes = Buffer.from([text(ANSWER.replace("Here", "Hêre")), finish(), usage, "[DONE]"].map(event).join(""));
      const at = bytes.indexOf(Buffer.from("ê")) + 1;
      head(response).write(bytes.subarray(0, at));
      setTimeout(() => response.end(bytes.subarray(at)), 20);
    },
    ...said,
  },
  {
    name: "answers with another model",
    answer: stream({ ...text(ANSWER), model: "other-model" }, { ...finish(), model: "other-model" }, usage, "[DONE]"),
    ...said,
  },
  {
    name: "sends an error after a whole answer",
    answer: stream(text(ANSWER), finish(), usage, { error: { message: "Too late to matter" } }),
    ...said,
  },
  {
    name: "thinks until its limit",
    answer: stream(
      chunk({ choices: [{ index: 0, delta: { reasoning_content: LONG_REASONING }, finish_reason: null }] }),
      finish("length"),
      usage,
      "[DONE]",
    ),
    ...said,
    outcome: "truncated",
    says: /reasoning/i,
  },
  {
    name: "declines by a reason",
    answer: stream(text(""), finish("content_filter"), usage, "[DONE]"),
    ...said,
    outcome: "refused",
  },
];
