import { promisify } from "node:util";
import { API, type SessionState } from "@tourney/core/contract";
import { type Request, Router } from "express";
import { register } from "../http/register.js";
import type { AuthService } from "./service.js";

export function authRoutes({ auth, exhibitOrigin }: { auth: AuthService; exhibitOrigin: string }): Router {
  const router = Router();
  const describe = (request: Request): SessionState => ({ signedIn: request.session.isLead === true, exhibitOrigin });
  register(router, API.getSession, ({ request }) => describe(request));
  register(router, API.signIn, async ({ body, request }) => {
    await auth.signIn(body.token);
    // A new session id on signing in, so that one planted before is worth nothing.
    await promisify(request.session.regenerate.bind(request.session))();
    request.session.isLead = true;
    return describe(request);
  });
  register(router, API.signOut, async ({ request }) => {
    await promisify(request.session.destroy.bind(request.session))();
    return { signedIn: false, exhibitOrigin };
  });
  return router;
}
