import { type Answer, type Habit, TRIES, head, json, said, told } from "./wire.js";
import { ANSWER } from "../scenario.js";

const message = (type: string, fields: object) => `event: ${type}\ndata: ${JSON.stringify({ type, ...fields })}\n\n`;
const START = message("message_start", {
  message: {
    id: "m",
    type: "message",
    role: "assistant",
    model: "the-model",
    content: [],
    stop_reason: null,
    stop_sequence: null,
    usage: { input_tokens: 100, output_tokens: 1 },
  },
});
const BLOCK = message("content_block_start", { index: 0, content_block: { type: "text", text: "" } });
const TEXT = message("content_block_delta", { index: 0, delta: { type: "text_delta", text: ANSWER } });
const STOP =
  message("content_block_stop", { index: 0 }) +
  message("message_delta", { delta: { stop_reason: "end_turn", stop_sequence: null }, usage: { output_tokens: 200 } }) +
  message("message_stop", {});
const say =
  (...events: string[]): Answer =>
  (response) =>
    void head(response).end(events.join(""));

/** Of the messages protocol. */
export const OF_MESSAGES: Habit[] = [
  { name: "streams as it should (messages)", answer: say(START, BLOCK, TEXT, STOP), ...said },
  {
    name: "has too much to do within its stream once (messages)",
    answer: (response, attempt) =>
      (attempt === 1
        ? say(message("error", { error: { type: "overloaded_error", message: "Overloaded" } }))
        : say(START, BLOCK, TEXT, STOP))(response, attempt),
    ends: "answered",
    requests: 2,
    cost: "told",
  },
  {
    name: "sends the whole answer as JSON (messages)",
    answer: json(200, {
      id: "m",
      type: "message",
      role: "assistant",
      model: "the-model",
      content: [{ type: "text", text: ANSWER }],
      stop_reason: "end_turn",
      stop_sequence: null,
      usage: { input_tokens: 100, output_tokens: 200 },
    }),
    ...said,
  },
  {
    name: "is out of credit (messages)",
    answer: json(400, {
      type: "error",
      error: { type: "invalid_request_error", message: "Your credit balance is too low" },
    }),
    ...told,
    says: /credit balance is too low/,
  },
  {
    name: "breaks off after the usage of what was read (messages)",
    answer: (response) => {
      head(response).write(START + BLOCK + TEXT.replace(JSON.stringify(ANSWER).slice(1, -1), "Half"));
      setTimeout(() => response.destroy(), 20);
    },
    ends: "failed",
    requests: TRIES,
    cost: "estimated",
  },
];
