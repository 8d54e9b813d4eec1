import type { FailureCause, ReachedProtocol, Settings, Usage } from "@tourney/core/contract";

export interface Message {
  role: "user" | "assistant";
  content: string;
}

/** One request to one model, with all that is pinned. */
export interface EndpointCall {
  protocol: ReachedProtocol;
  baseUrl: string;
  model: string;
  /** The key itself; it goes into one header and nowhere else. */
  key: string | null;
  settings: Settings;
  messages: readonly Message[];
}

/** What came over the wire, whether or not it became an answer. */
export interface Received {
  text: string;
  reasoning: string;
  usage: Usage | null;
  /** Until the first token of any sort, reasoning included. */
  firstTokenMs: number | null;
  /** Until the first token of the answer itself. */
  firstTextMs: number | null;
  totalMs: number;
  finishReason: string | null;
  reportedModel: string | null;
  /** The body as it was sent; keys are in a header and so never part of it. */
  request: unknown;
  /** Response headers that matter. */
  headers: Record<string, string>;
}

export interface Answer extends Received {
  ok: true;
  finishReason: string;
}

export interface NoAnswer extends Received {
  ok: false;
  cause: FailureCause;
  message: string;
  remedy: string;
  httpStatus: number | null;
  retryAfterMs: number | null;
}

/** The stream ended without the endpoint saying why: what came may be half an answer. */
export class CutStream extends Error {
  override readonly name = "CutStream";
}

/** Nothing came for longer than the entrant's limit allows. */
export class Stalled extends Error {
  override readonly name = "Stalled";
}

export const NOTHING_RECEIVED: Received = {
  text: "",
  reasoning: "",
  usage: null,
  firstTokenMs: null,
  firstTextMs: null,
  totalMs: 0,
  finishReason: null,
  reportedModel: null,
  request: null,
  headers: {},
};
