import type { FailureCause, Settings, Timings, Usage } from "@tourney/core/contract";

/** One message to one model, with all that is pinned. */
export interface EndpointCall {
  baseUrl: string;
  model: string;
  /** The key itself; it goes into one header and nowhere else. */
  key: string | null;
  settings: Settings;
  /** The user's message. */
  text: string;
}

export interface Answer {
  ok: true;
  text: string;
  reasoning: string;
  usage: Usage;
  timings: Timings;
  finishReason: string;
  reportedModel: string | null;
  /** The body as it was sent; keys are in a header and so never part of it. */
  request: unknown;
}

export interface NoAnswer {
  ok: false;
  cause: FailureCause;
  message: string;
  remedy: string;
  httpStatus: number | null;
  retryAfterMs: number | null;
  request: unknown;
}

/** The stream ended without the endpoint saying why: what came may be half an answer. */
export class CutStream extends Error {
  override readonly name = "CutStream";
}
