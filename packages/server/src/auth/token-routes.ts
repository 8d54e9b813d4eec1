import { API } from "@tourney/core/contract";
import { type RequestHandler, Router } from "express";
import { register } from "../http/register.js";
import type { TokenService } from "./token-service.js";

const BEARER = /^Bearer\b *(\S{0,200})/i;

/**
 * Reads who calls where a script sends a token. A wrong one is refused even where none is needed: a script is to learn of it at once. Other ways
 * to authorise are between the caller and a proxy.
 */
export const readBearer =
  (tokens: Pick<TokenService, "use">): RequestHandler =>
  async (request, _response, next) => {
    const [, token] = BEARER.exec(request.headers.authorization ?? "") ?? [];
    if (token !== undefined) request.apiToken = await tokens.use(token);
    next();
  };

export function tokenRoutes({ tokens }: { tokens: TokenService }): Router {
  const router = Router();
  register(router, API.listTokens, () => tokens.list());
  register(router, API.addToken, ({ body }) => tokens.add(body));
  register(router, API.revokeToken, ({ params }) => tokens.revoke(params.tokenId));
  return router;
}
