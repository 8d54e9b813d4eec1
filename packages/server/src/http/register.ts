import type { ApiToken, Operation, TokenScope } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { Request, Response, Router } from "express";
import type * as z from "zod";
import type { KeptAnswers } from "../changes/kept-answers.js";
import { parseInput } from "./parse-input.js";
import { ReadyAnswer } from "./ready-answer.js";

declare module "express-serve-static-core" {
  interface Request {
    /** Set where a script calls by a token. */
    apiToken?: ApiToken;
  }
}

export interface Call<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType> {
  params: z.output<P>;
  query: z.output<Q>;
  body: z.output<B>;
  request: Request;
  response: Response;
}

/**
 * Registers one operation of the contract: checks who may call it, parses what comes in, calls the handler, and lets out
 * only what the response schema lists, so that nothing else can leak.
 *
 * @param kept holds its answers until something changes: for what reads alone, is the same for every lead, and is asked for again and again.
 */
export function register<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  router: Router,
  operation: Operation<P, Q, B, R>,
  handle: (call: Call<P, Q, B>) => Promise<z.input<R> | ReadyAnswer> | z.input<R> | ReadyAnswer,
  kept?: KeptAnswers,
): void {
  const answer = async (call: Call<P, Q, B>): Promise<ReadyAnswer> => {
    const found = await handle(call);
    return found instanceof ReadyAnswer ? found : new ReadyAnswer(JSON.stringify(operation.response.parse(found)));
  };
  // What is the same for every lead is told by its parameters and query alone.
  const keptAnswer = kept?.offer(operation, async (call) => (await answer(call as Call<P, Q, B>)).getText());
  router[operation.method](operation.path, async (request, response) => {
    if (operation.access === "lead") requireLead(request, operation.scope);
    const call = {
      params: parseInput(operation.params, request.params, "The address"),
      query: parseInput(operation.query, request.query, "The address's query"),
      body: await readBody(operation, request),
      request,
      response,
    };
    response.status(operation.status);
    const found = await (keptAnswer === undefined ? answer(call) : keptAnswer(call));
    // How long a packed text is tells of what is in it: voters are not to learn from that whose page they see.
    if (operation.access === "lead") await found.sendPacked(request, response);
    else await found.send(response);
  });
}

/** Not a byte of a body is read before it is known that whoever sends it may. */
const readBody = <P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  operation: Operation<P, Q, B, R>,
  request: Request,
): Promise<z.output<B>> =>
  (operation.method === "post" || operation.method === "put") && request.readBody !== undefined
    ? request.readBody(operation)
    : Promise.resolve(parseInput(operation.body, undefined));

/**
 * Lets the lead through, and scripts by a token of the scope that is needed: `read` unless said otherwise, none for null.
 *
 * @throws TourneyError NOT_SIGNED_IN, NOT_ALLOWED
 */
export function requireLead({ session, apiToken }: Request, scope: TokenScope | null = "read"): void {
  if (apiToken !== undefined) {
    if (scope !== null && apiToken.scopes.includes(scope)) return;
    throw new TourneyError("NOT_ALLOWED", {
      message: `The token “${apiToken.name}” may not do this.`,
      reason:
        scope === null
          ? "No token may: it is for the lead in person."
          : `It has the scopes ${apiToken.scopes.join(", ")}; this needs ${scope}.`,
      remedy:
        scope === null
          ? "Sign in, and do it there."
          : `Make a token with the scope ${scope} on the Runs page, or with \`./tourney token add\`.`,
    });
  }
  if (session.isLead === true) return;
  throw new TourneyError("NOT_SIGNED_IN", {
    message: "You are not signed in.",
    reason: "This part of Tourney is for the evaluation's lead.",
    remedy: "Open the sign-in link that the start command printed, or make a new one with `./tourney sign-in`.",
  });
}
