import { STATUS_CODES } from "node:http";
import { HTTP_STATUS, toTourneyError, TourneyError } from "@tourney/core/errors";
import type { ErrorRequestHandler, RequestHandler } from "express";
import * as z from "zod";
import { InvalidInput } from "./parse-input.js";

const HttpError = z.object({ status: z.int().min(400).max(499), type: z.string(), message: z.string() });

/** What Express itself throws for a body it cannot read, in our words. */
function translate(thrown: unknown): TourneyError {
  const bodyError = HttpError.safeParse(thrown);
  if (!bodyError.success) return toTourneyError(thrown);
  const isTooLarge = bodyError.data.type === "entity.too.large";
  return new TourneyError(isTooLarge ? "TOO_LARGE" : "INVALID_INPUT", {
    message: isTooLarge ? "The request is too large." : "The request's body cannot be read.",
    reason: bodyError.data.message,
    remedy: isTooLarge ? "Send less at once." : "Send valid JSON.",
    cause: thrown,
  });
}

/** The one place where errors leave: RFC 9457 problem details with what, why and what to do, and a trace in the log. */
export const problemHandler: ErrorRequestHandler = (thrown: unknown, request, response, next) => {
  const error = translate(thrown);
  const status = HTTP_STATUS[error.code];
  request.log[status >= 500 ? "error" : "info"]({ err: error, code: error.code }, error.message);
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
