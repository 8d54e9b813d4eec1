import * as z from "zod";
import { Id, Instant } from "./common.js";
import { defineOperation, TokenScope } from "./operation.js";

/** What lets a script call the API in the lead's place. The token itself is shown once, when it is made. */
export const ApiToken = z
  .object({
    id: Id,
    name: z.string(),
    scopes: z.array(TokenScope),
    createdAt: Instant,
    lastUsedAt: Instant.nullable().describe("To the minute."),
    revokedAt: Instant.nullable().describe("It opens nothing since then."),
  })
  .meta({ id: "ApiToken" });
export type ApiToken = z.infer<typeof ApiToken>;

export const ApiTokenInput = z
  .strictObject({
    name: z.string().trim().min(1, "say what it is for").max(60),
    scopes: z.array(TokenScope).min(1, "choose what it may do").max(3),
  })
  .meta({ id: "ApiTokenInput" });
export type ApiTokenInput = z.infer<typeof ApiTokenInput>;

/** Tokens for scripts. No token makes, lists or revokes another. */
export const TOKEN_OPERATIONS = {
  listTokens: defineOperation({
    id: "listTokens",
    method: "get",
    path: "/api/tokens",
    summary: "Tokens for scripts, the newest first, without what opens anything",
    scope: null,
    response: z.array(ApiToken),
  }),
  addToken: defineOperation({
    id: "addToken",
    method: "post",
    path: "/api/tokens",
    summary: "Make a token for scripts; it is shown in this answer alone",
    scope: null,
    body: ApiTokenInput,
    response: z.object({ token: z.string(), made: ApiToken }),
    status: 201,
  }),
  revokeToken: defineOperation({
    id: "revokeToken",
    method: "delete",
    path: "/api/tokens/:tokenId",
    summary: "Revoke a token for good",
    scope: null,
    params: z.object({ tokenId: Id }),
    response: ApiToken,
  }),
} as const;
