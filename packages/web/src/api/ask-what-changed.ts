import type { FetchArgs } from "@reduxjs/toolkit/query/react";
import type * as z from "zod";
import { type ApiError, BAD_ANSWER } from "./tourney-api.js";

/** What a base query of RTK gives, as far as it is used here. */
type Asked = { data?: unknown; error?: ApiError | undefined; meta?: { response?: Response | undefined } | undefined };

/** Where the server sends only what is other than in the answer that is held. */
export interface Follow<T> {
  /** Names the answer that is held. */
  cursorOf: (held: T) => string;
  /** @returns the whole of it, also where that is what was sent. */
  join: (held: T, sent: T) => T;
}

/** Answers by their address, the newest last; a screen asks for one or two of them at a time. */
const held = new Map<string, { tag: string; data: unknown }>();
const MOST_HELD = 4;
const NOT_MODIFIED = 304;

/**
 * Asks for a large answer with the tag of the one that is held: where nothing has changed, the server sends nothing, nothing is parsed, and
 * what is held is given again, the same object.
 */
export async function askWhatChanged<T>(
  request: FetchArgs,
  {
    ask,
    schema,
    follow,
  }: { ask: (args: FetchArgs) => Asked | PromiseLike<Asked>; schema: z.ZodType<T, T>; follow?: Follow<T> },
): Promise<{ data: T; error?: undefined } | { error: ApiError; data?: undefined }> {
  const address = request.url + JSON.stringify(request.params ?? {});
  const before = held.get(address);
  const { data, error, meta } = await ask({
    ...request,
    validateStatus: ({ ok, status }) => ok || status === NOT_MODIFIED,
    ...(before === undefined ? {} : { headers: { "If-None-Match": before.tag } }),
    ...(before === undefined || follow === undefined
      ? {}
      : { params: { ...request.params, since: follow.cursorOf(before.data as T) } }),
  });
  if (error !== undefined) return { error };
  if (before !== undefined && meta?.response?.status === NOT_MODIFIED) return { data: before.data as T };
  const parsed = schema.safeParse(data);
  if (!parsed.success) return { error: BAD_ANSWER };
  const whole = before === undefined || !follow ? parsed.data : follow.join(before.data as T, parsed.data);
  const tag = meta?.response?.headers.get("ETag");
  held.delete(address);
  if (tag) held.set(address, { tag, data: whole });
  for (const oldest of [...held.keys()].slice(0, -MOST_HELD)) held.delete(oldest);
  return { data: whole };
}
