import * as z from "zod";

/** Who may call an operation: anyone, a voter with the panel's cookie, or the signed-in lead. */
export type Access = "open" | "voter" | "lead";

/** What a token for scripts may do: read everything, send prompts to models, or change anything else. None includes another. */
export const TokenScope = z.enum(["read", "run", "change"]).meta({ id: "TokenScope" });
export type TokenScope = z.infer<typeof TokenScope>;

/** One operation of the HTTP API: the server registers it, OpenAPI describes it, the web calls it. */
export interface Operation<
  Params extends z.ZodType = z.ZodType,
  Query extends z.ZodType = z.ZodType,
  Body extends z.ZodType = z.ZodType,
  Response extends z.ZodType = z.ZodType,
> {
  id: string;
  method: "get" | "post" | "put" | "delete";
  /** Express style, as in /api/runs/:runId */
  path: string;
  summary: string;
  access: Access;
  /** The scope with which a token may call it in the lead's place; null where no token may. */
  scope: TokenScope | null;
  params: Params;
  query: Query;
  body: Body;
  response: Response;
  status: 200 | 201 | 204;
}

const nothing = z.object({});
type Nothing = typeof nothing;

/** Fills in what most operations share: no query, no body, status 200, for the lead; a token needs `read` for a GET and `change` for the rest. */
export function defineOperation<
  Params extends z.ZodType = Nothing,
  Query extends z.ZodType = Nothing,
  Body extends z.ZodType = z.ZodUndefined,
  Response extends z.ZodType = Nothing,
>(
  parts: Pick<Operation, "id" | "method" | "path" | "summary"> & {
    access?: Access;
    scope?: TokenScope | null;
    params?: Params;
    query?: Query;
    body?: Body;
    response?: Response;
    status?: 200 | 201 | 204;
  },
): Operation<Params, Query, Body, Response> {
  const {
    access = "lead",
    scope = access !== "lead" ? null : parts.method === "get" ? "read" : "change",
    params = nothing,
    query = nothing,
    body = z.undefined(),
    response = nothing,
    status = 200,
  } = parts;
  return {
    ...parts,
    access,
    scope,
    params: params as Params,
    query: query as Query,
    body: body as Body,
    response: response as Response,
    status,
  };
}
