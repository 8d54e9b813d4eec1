import { type Operation, Problem } from "@tourney/core/contract";
import {
  type BaseQueryFn,
  createApi,
  type FetchArgs,
  fetchBaseQuery,
  type FetchBaseQueryMeta,
} from "@reduxjs/toolkit/query/react";
import type * as z from "zod";

/** What a screen needs to say about a failure: what and why, what to do, and where in a form. */
export interface ApiError {
  code: string;
  detail: string;
  remedy: string;
  requestId: string | null;
  issues: { path: string; message: string }[];
}

const rawQuery = fetchBaseQuery({ baseUrl: "/" });

const offline: ApiError = {
  code: "OFFLINE",
  detail: "Tourney does not answer.",
  remedy: "Check that it runs (`./tourney status`), then try again. Nothing you entered is lost.",
  requestId: null,
  issues: [],
};

/** The server's answer is not of the shape that this page knows. */
export const BAD_ANSWER: ApiError = {
  code: "BAD_ANSWER",
  detail: "The server's answer does not match what this page expects.",
  remedy: "Reload the page: it may be older than the server.",
  requestId: null,
  issues: [],
};

const baseQuery: BaseQueryFn<FetchArgs, unknown, ApiError, object, FetchBaseQueryMeta> = async (args, api, options) => {
  const result = await rawQuery(args, api, options);
  if (!result.error) return result;
  const problem = Problem.safeParse(result.error.data);
  if (!problem.success) return { error: offline };
  const { code, detail, remedy, requestId, issues = [] } = problem.data;
  return { error: { code, detail, remedy, requestId, issues } };
};

/** What answers are kept under, to be asked anew when something changes it. */
export const TAGS = [
  "Session",
  "Course",
  "Edition",
  "Entrant",
  "Run",
  "Wall",
  "Entry",
  "Panel",
  "Booth",
  "Bouts",
  "Standings",
  "Sheet",
  "Judging",
  "View",
  "ReportLink",
  "Token",
  "Snapshot",
  "Stopping",
] as const;

/** The one API slice. Features add their endpoints to it. */
export const tourneyApi = createApi({
  reducerPath: "tourney",
  baseQuery,
  tagTypes: TAGS,
  catchSchemaFailure: () => BAD_ANSWER,
  endpoints: () => ({}),
});

/** The request for an operation of the contract. */
export function toRequest<Body extends z.ZodType>(
  operation: Operation<z.ZodType, z.ZodType, Body>,
  {
    params = {},
    query,
    body,
  }: { params?: Record<string, string>; query?: Record<string, string | undefined>; body?: z.input<Body> } = {},
): FetchArgs {
  const url = operation.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ""));
  return {
    url: url.slice(1),
    method: operation.method.toUpperCase(),
    ...(query === undefined
      ? {}
      : { params: Object.fromEntries(Object.entries(query).filter(([, value]) => value !== undefined)) }),
    ...(body === undefined ? {} : { body }),
  };
}

/** The schema of an operation's response. What the server sends is whole: its defaults have been filled in there. */
export function responseOf<Response extends z.ZodType>({
  response,
}: {
  response: Response;
}): z.ZodType<z.output<Response>, z.output<Response>> {
  return response as unknown as z.ZodType<z.output<Response>, z.output<Response>>;
}

/** An RTK Query error as ours; what RTK itself throws becomes the same shape. */
export function toApiError(error: unknown): ApiError {
  if (typeof error === "object" && error !== null && "detail" in error && "remedy" in error) return error as ApiError;
  return {
    code: "INTERNAL",
    detail: "Something went wrong in this page.",
    remedy: "Reload the page.",
    requestId: null,
    issues: [],
  };
}
