import { STATUS_CODES } from "node:http";
import { HTTP_STATUS, toTourneyError, TourneyError } from "@tourney/core/errors";
import type { ErrorRequestHandler, RequestHandler } from "express";
import * as z from "zod";
import { InvalidInput } from "./invalid-input.js";

/** What Express and its parts throw for a request that they cannot take. */
const HttpError = z.object({ status: z.int().min(400).max(499), message: z.string() });

export const isClientError = (thrown: unknown): thrown is Error & { status: number } =>
  HttpError.safeParse(thrown).success;

/** What Express itself throws, in our words. */
function translate(thrown: unknown): TourneyError {
  const parsed = HttpError.safeParse(thrown);
  if (!parsed.success) return toTourneyError(thrown);
  const { status, message: reason } = parsed.data;
  if (status === 404)
    return new TourneyError("NOT_FOUND", {
      message: "There is no such file.",
      reason: "The page that asked for it may be from before Tourney was brought up to date.",
      remedy: "Load the page again.",
      cause: thrown,
    });
  const isTooLarge = status === 413;
  // The body's own words are not repeated: they may be as long as it is.
  const isAddress = thrown instanceof URIError;
  return new TourneyError(isTooLarge ? "TOO_LARGE" : "INVALID_INPUT", {
    message: isTooLarge
      ? "The request is too large."
      : isAddress
        ? "The address cannot be read."
        : "The request's body cannot be read.",
    reason: reason.slice(0, LONGEST_REASON),
    remedy: isTooLarge ? "Send less at once." : isAddress ? "Check its % signs." : "Send valid JSON.",
    cause: thrown,
  });
}

const LONGEST_REASON = 200;

/** The one place where errors leave: RFC 9457 problem details with what, why and what to do, and a trace in the log. */
export const problemHandler: ErrorRequestHandler = (thrown: unknown, request, response, next) => {
  const error = translate(thrown);
  const status = HTTP_STATUS[error.code];
  if (status >= 500) request.log.error({ err: error, code: error.code }, error.message);
  // What somebody sent is not worth a stack, and may be as long as they like.
  else request.log.info({ code: error.code }, error.message.slice(0, LONGEST_REASON));
  if (response.headersSent) {
    next(thrown);
    return;
  }
  response
    .status(status)
    .type("application/problem+json")
    .send(
      JSON.stringify({
        type: `tourney:${error.code.toLowerCase().replaceAll("_", "-")}`,
        title: STATUS_CODES[status] ?? "Error",
        status,
        code: error.code,
        detail: error.code === "INTERNAL" ? error.message : `${error.message} ${error.reason}`,
        remedy: error.remedy,
        requestId: request.id as string,
        ...(error instanceof InvalidInput ? { issues: error.issues } : {}),
      }),
    );
};

/** An address under /api that nothing answers. */
export const noSuchOperation: RequestHandler = (request) => {
  throw new TourneyError("NOT_FOUND", {
    message: `There is no ${request.method} ${request.path}.`,
    reason: "The API has no such operation.",
    remedy: "See /api/openapi.json for all of them.",
  });
};
