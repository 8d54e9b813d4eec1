import type { FailureCause } from "@tourney/core/contract";
import { findSystemCode } from "@tourney/core/errors";
import { LONGEST_ASKED_WAIT_MS, parseRetryAfterMs } from "@tourney/core/generation";
import { APICallError } from "@ai-sdk/provider";
import { CutStream, type EndpointCall, type NoAnswer, type Received, Stalled } from "./endpoint-call.js";
import { AddressRefused } from "./endpoint-fetch.js";
import { NoAnswerCame, SaidError } from "./read-wire.js";
import { isOutOfCredit, judgeSaid, readWords } from "./said.js";

interface Circumstances {
  call: EndpointCall;
  nowMs: number;
}

type Explained = Omit<NoAnswer, "ok" | keyof Received>;

const LONGEST_MESSAGE = 600;
const ADDRESS_REFUSED =
  "If a model is meant to run there, let whoever runs Tourney list it as host:port in TOURNEY_LOCAL_ENDPOINTS and start it again. Nothing was sent.";
const READABLE = "Check that the address is an endpoint of the entrant's protocol, with its /v1.";

/** Tells the cause of a failed call, with what the endpoint said and what to do about it. */
export function explainFailure(error: unknown, { call, nowMs }: Circumstances): Explained {
  const message = error instanceof Error ? error.message : String(error);
  const refused = findRefused(error);
  if (refused !== null) return explain("bad_request", refused.message, ADDRESS_REFUSED);
  if (error instanceof Stalled)
    return explain("stalled", message, "It is retried by itself; raise the entrant's time limits if it stays.");
  if (error instanceof CutStream)
    return explain("cut_stream", message, "Retry; if it stays, the endpoint ends streams early.");
  if (APICallError.isInstance(error) && error.statusCode !== undefined && error.statusCode >= 300)
    return explainStatus(error, error.statusCode, call, nowMs);
  if (error instanceof SaidError) return explainSaid(error.said, call);
  if (error instanceof NoAnswerCame) return explain("bad_response", message, READABLE);
  // Its first piece never came whole.
  if (APICallError.isInstance(error) && error.statusCode === 200 && findSystemCode(error) === null)
    return explain(
      "cut_stream",
      "The connection broke before the answer was whole.",
      "Retry; if it stays, the endpoint or the way to it drops connections.",
    );
  // The SDK's own words for a stream that just ends.
  if (/without a finish reason/.test(message))
    return explain(
      "cut_stream",
      "The stream ended before the answer was finished.",
      "Retry; if it stays, the endpoint ends streams early.",
    );
  const systemCode = findSystemCode(error);
  if (systemCode !== null) {
    return explain(
      "unreachable",
      `${call.baseUrl} cannot be reached (${systemCode}).`,
      "Check that the endpoint runs and that its address is right.",
    );
  }
  if (APICallError.isInstance(error) && error.isRetryable) {
    return explain(
      "unreachable",
      `${call.baseUrl} cannot be reached: ${message}`,
      "Check that the endpoint runs and that its address is right.",
    );
  }
  if (error instanceof TypeError || /terminated|socket|aborted/i.test(message + describeCause(error))) {
    return explain(
      "cut_stream",
      `The connection broke: ${message}`,
      "Retry; if it stays, the endpoint or the way to it drops connections.",
    );
  }
  return explain("bad_response", `The answer cannot be read: ${message}`, READABLE);
}

/** That the address is one which nobody allowed, wherever in the chain of causes it says so. */
function findRefused(error: unknown): AddressRefused | null {
  for (let cause = error, depth = 0; cause instanceof Error && depth < 8; cause = cause.cause, depth++)
    if (cause instanceof AddressRefused) return cause;
  return null;
}

function explainStatus(
  error: APICallError,
  status: number,
  { baseUrl, model }: EndpointCall,
  nowMs: number,
): Explained {
  const said = describeBody(error);
  const header = Object.entries(error.responseHeaders ?? {}).find(([name]) => name.toLowerCase() === "retry-after");
  const retryAfterMs = parseRetryAfterMs(header?.[1] ?? null, nowMs);
  const at = (cause: FailureCause, remedy: string): Explained => ({
    ...explain(cause, `${status}: ${said}`, remedy),
    httpStatus: status,
    retryAfterMs,
  });
  if (isOutOfCredit(said, status)) return at("unauthorized", OUT_OF_CREDIT);
  if (retryAfterMs !== null && retryAfterMs > LONGEST_ASKED_WAIT_MS) {
    return {
      ...at("rate_limited", `It asks to be left alone for ${describeWait(retryAfterMs)}: retry after that.`),
      retryAfterMs,
    };
  }
  if (status >= 300 && status < 400)
    return at(
      "bad_response",
      `It leads elsewhere (${error.responseHeaders?.["location"] ?? "without saying where"}), which is not followed. ${READABLE}`,
    );
  if (status === 401 || status === 403)
    return at("unauthorized", "Check the key in the named environment variable, then restart and retry.");
  if (status === 429)
    return at("rate_limited", "It is retried by itself; lower the endpoint's concurrency if it stays.");
  if (status === 404) return at("bad_request", `Check the model id "${model}" and the address ${baseUrl}.`);
  if (status === 408 || status >= 500)
    return at("server_error", "It is retried by itself; the endpoint has trouble of its own.");
  if (status >= 400) return at("bad_request", "Check the entrant's settings: the endpoint does not take this request.");
  return at("bad_response", READABLE);
}

/** The service's own error text, from JSON of any shape or from plain text. */
function describeBody(error: APICallError): string {
  const body = error.responseBody ?? "";
  if (/^\s*</.test(body)) return `${error.message} (the answer is a web page, not JSON)`.slice(0, LONGEST_MESSAGE);
  let said: unknown = body;
  try {
    said = JSON.parse(body);
  } catch {
    // Plain words.
  }
  return (readWords(said) ?? error.message).slice(0, LONGEST_MESSAGE);
}

/** An error that came with a good status. */
function explainSaid(said: unknown, { model }: EndpointCall): Explained {
  const { cause, words, status } = judgeSaid(said);
  const remedies: Partial<Record<FailureCause, string>> = {
    unauthorized: isOutOfCredit(words, status)
      ? OUT_OF_CREDIT
      : "Check the key in the named environment variable, then restart and retry.",
    rate_limited: "It is retried by itself; lower the endpoint's concurrency if it stays.",
    server_error: "It is retried by itself; the endpoint has trouble of its own.",
    bad_request: `Check the entrant's settings and the model id "${model}": the endpoint does not take this request.`,
    bad_response: "Read what it says; when that is mended, retry.",
  };
  return { ...explain(cause, `The endpoint says: ${words}`, remedies[cause]!), httpStatus: status ?? 200 };
}

const OUT_OF_CREDIT = "The endpoint wants to be paid first: see to its credit or plan, then retry.";

const describeWait = (ms: number): string =>
  ms >= 2 * 86_400_000
    ? `${Math.round(ms / 86_400_000)} days`
    : ms >= 7_200_000
      ? `${Math.round(ms / 3_600_000)} h`
      : `${Math.round(ms / 60_000)} min`;

/** The SDK wraps a connection that broke within the first answer into an error of its own. */
const describeCause = (error: unknown): string =>
  error instanceof Error && error.cause instanceof Error ? `${error.cause.name} ${error.cause.message}` : "";

const explain = (cause: FailureCause, message: string, remedy: string): Explained => ({
  cause,
  message: message.slice(0, LONGEST_MESSAGE),
  remedy,
  httpStatus: null,
  retryAfterMs: null,
});
