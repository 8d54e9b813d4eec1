import { API, type Operation, Problem } from "@tourney/core/contract";
import * as z from "zod";
import { createDocument } from "zod-openapi";

/** The OpenAPI 3.1 description of every operation, generated from the contract that the server itself parses by. */
export function describeApi(): ReturnType<typeof createDocument> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const operation of Object.values(API) as Operation[]) {
    const path = operation.path.replace(/:(\w+)/g, "{$1}");
    paths[path] = { ...paths[path], [operation.method]: describeOperation(operation) };
  }
  return createDocument({
    openapi: "3.1.0",
    info: {
      title: "Tourney",
      version: "1",
      description:
        "Suites of visual prompts, entrants, runs, entries, blind voting and standings. Errors are RFC 9457 problem details.",
    },
    components: {
      securitySchemes: {
        lead: { type: "apiKey", in: "cookie", name: "tourney" },
        token: {
          type: "http",
          scheme: "bearer",
          description: "A token for scripts, with the scope that the operation names.",
        },
        voter: { type: "apiKey", in: "cookie", name: "tourney_voter" },
      },
    },
    paths,
  });
}

function describeOperation({ id, summary, access, scope, params, query, body, response, status }: Operation) {
  const json = (schema: z.ZodType) => ({ content: { "application/json": { schema } } });
  return {
    operationId: id,
    summary,
    security: access === "open" ? [] : [{ [access]: [] }, ...(scope === null ? [] : [{ token: [scope] }])],
    requestParams: { path: params as z.ZodObject, query: query as z.ZodObject },
    ...(body instanceof z.ZodUndefined ? {} : { requestBody: json(body) }),
    responses: {
      [status]: { description: "Done", ...json(response) },
      default: {
        description: "What went wrong, why, and what to do",
        content: { "application/problem+json": { schema: Problem } },
      },
    },
  };
}
