import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";

type Handler = (request: IncomingMessage, response: ServerResponse, attempt: number) => void;

/** An endpoint that misbehaves as told: the failures that a well-made stand-in does not have. */
export async function startFakeEndpoint(
  handler: Handler,
): Promise<{ baseUrl: string; requests: IncomingMessage[]; close: () => Promise<void> }> {
  const requests: IncomingMessage[] = [];
  const server = createServer((request, response) => {
    requests.push(request);
    request.resume();
    handler(request, response, requests.length);
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return {
    baseUrl: `http://127.0.0.1:${(server.address() as AddressInfo).port}/v1`,
    requests,
    close: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}

const chunk = (model: string, fields: object) =>
  `data: ${JSON.stringify({ id: "c1", object: "chat.completion.chunk", created: 1, model, ...fields })}\n\n`;

/** Begins a stream and leaves it open. */
export function startStream(response: ServerResponse, text: string, model = "the-model"): void {
  response.writeHead(200, { "Content-Type": "text/event-stream", "x-request-id": "r1" });
  response.write(
    chunk(model, { choices: [{ index: 0, delta: { role: "assistant", content: text }, finish_reason: null }] }),
  );
}

export function finishStream(response: ServerResponse, model = "the-model", finish = "stop"): void {
  response.write(chunk(model, { choices: [{ index: 0, delta: {}, finish_reason: finish }] }));
  response.write(
    chunk(model, { choices: [], usage: { prompt_tokens: 100, completion_tokens: 200, total_tokens: 300 } }),
  );
  response.end("data: [DONE]\n\n");
}

/** Streams an answer as the protocol has it; `cut` ends the stream before the finish reason. */
export function sendStream(
  response: ServerResponse,
  text: string,
  { model = "the-model", cut = false, finish = "stop" }: { model?: string; cut?: boolean; finish?: string } = {},
): void {
  startStream(response, text, model);
  if (cut) response.end();
  else finishStream(response, model, finish);
}

export function sendError(
  response: ServerResponse,
  status: number,
  message: string,
  headers: Record<string, string> = {},
): void {
  response.writeHead(status, { "Content-Type": "application/json", ...headers });
  response.end(JSON.stringify({ error: { message, type: "error", param: null, code: null } }));
}
