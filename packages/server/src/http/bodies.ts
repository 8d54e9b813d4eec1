import { TourneyError } from "@tourney/core/errors";
import { API, type Operation } from "@tourney/core/contract";
import { raw, type Request, type RequestHandler, type Response } from "express";
import type * as z from "zod";
import type { Readers } from "../reading/readers.js";
import { parseInput, parseJson } from "./parse-input.js";

declare module "express-serve-static-core" {
  interface Request {
    /** Reads the body by the operation's schema: whoever calls it has looked at who asks. */
    readBody?: <Body extends z.ZodType>(operation: AnyOperation<Body>) => Promise<z.output<Body>>;
  }
}

type AnyOperation<Body extends z.ZodType> = Operation<z.ZodType, z.ZodType, Body>;
type OperationName = keyof typeof API;

/** An answer of a long page with a picture inside is a few megabytes, and as JSON each of its quotes takes two; nothing honest is larger. */
const LARGEST_BODY = 10_000_000;
/** What voters and strangers send is a ballot with a note at most. */
const LARGEST_FROM_ANYBODY = 64_000;
/** A longer one is not parsed where everybody waits. */
const SHORT_BYTES = 64_000;

const LARGEST = { lead: LARGEST_BODY, anybody: LARGEST_FROM_ANYBODY };
type Sender = keyof typeof LARGEST;

const receiver = (limit: number) => raw({ type: "application/json", limit, inflate: false });
const RECEIVERS: Record<Sender, RequestHandler> = {
  lead: receiver(LARGEST.lead),
  anybody: receiver(LARGEST.anybody),
};
const NAMES = new Map<unknown, OperationName>(
  Object.entries(API).map(([name, operation]) => [operation, name as OperationName]),
);

/** Refuses a body that is packed: a few kilobytes could be unpacked to any size. */
export const refusePacked: RequestHandler = ({ headers }, _response, next) => {
  const encoding = headers["content-encoding"];
  if (encoding === undefined || encoding === "identity") {
    next();
    return;
  }
  throw new TourneyError("INVALID_INPUT", {
    message: `The request's body is packed (${encoding.slice(0, 40)}).`,
    reason: "What it would be unpacked to has no bound.",
    remedy: "Send it as it is, without Content-Encoding.",
  });
};

/**
 * Lets operations read their bodies: only when they ask, which is after they have looked at who calls, and long ones in a process where
 * nobody waits for them.
 */
export const offerBodies =
  (readers: Readers): RequestHandler =>
  (request, response, next) => {
    request.readBody = async (operation) => {
      const bytes = await receiveBody(request, response, operation.access === "lead" ? "lead" : "anybody");
      const name = NAMES.get(operation);
      if (bytes !== null && bytes.length > SHORT_BYTES && name !== undefined)
        return (await readers.read("body", { name, bytes })) as never;
      return parseInput(operation.body, bytes === null ? undefined : parseJson(bytes));
    };
    next();
  };

/** The bytes of a request's body, or null where it has none or none of JSON. */
async function receiveBody(request: Request, response: Response, who: Sender): Promise<Buffer | null> {
  if (Number(request.headers["content-length"] ?? 0) > LARGEST[who]) {
    // What follows is not read, so nothing more can come by this connection.
    response.set("Connection", "close");
    throw new TourneyError("TOO_LARGE", {
      message: "The request is too large.",
      reason: `No more than ${LARGEST[who] / 1e6} MB are taken here.`,
      remedy: "Send less at once.",
    });
  }
  await new Promise<void>((resolve, reject) => {
    const done = (error?: unknown) =>
      error === undefined ? resolve() : reject(error instanceof Error ? error : new Error("It cannot be read."));
    void RECEIVERS[who](request, response, done);
  });
  const body: unknown = request.body;
  return Buffer.isBuffer(body) && body.length > 0 ? body : null;
}
