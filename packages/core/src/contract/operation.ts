import * as z from "zod";

/** Who may call an operation: anyone, a voter with the panel's cookie, or the signed-in lead. */
export type Access = "open" | "voter" | "lead";

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
  params: Params;
  query: Query;
  body: Body;
  response: Response;
  status: 200 | 201 | 204;
}

const nothing = z.object({});
type Nothing = typeof nothing;

/** Fills in what most operations share: no query, no body, status 200. */
export function defineOperation<
  Params extends z.ZodType = Nothing,
  Query extends z.ZodType = Nothing,
  Body extends z.ZodType = z.ZodUndefined,
  Response extends z.ZodType = Nothing,
>(
  parts: Pick<Operation, "id" | "method" | "path" | "summary"> & {
    access?: Access;
    params?: Params;
    query?: Query;
    body?: Body;
    response?: Response;
    status?: 200 | 201 | 204;
  },
): Operation<Params, Query, Body, Response> {
  const {
    access = "lead",
    params = nothing,
    query = nothing,
    body = z.undefined(),
    response = nothing,
    status = 200,
  } = parts;
  return {
    ...parts,
    access,
    params: params as Params,
    query: query as Query,
    body: body as Body,
    response: response as Response,
    status,
  };
}
