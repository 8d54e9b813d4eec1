import { promisify } from "node:util";
import { API, type SessionState } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { type Request, Router } from "express";
import { register } from "../http/register.js";
import type { AuthService } from "./service.js";

const notKnownToBeSecure = () =>
  new TourneyError("SETUP_FAILED", {
    message: "This sign-in did not come by TLS, as far as Tourney is told.",
    reason: "It is to be reached by https, and the proxy before it does not say that it was.",
    remedy:
      "Let the proxy send X-Forwarded-Proto and Host (docs/elsewhere.md has one that does). The link is still good.",
  });

export function authRoutes({
  auth,
  exhibitOrigin,
  isSecure,
}: {
  auth: AuthService;
  exhibitOrigin: string;
  isSecure: boolean;
}): Router {
  const router = Router();
  const describe = (request: Request): SessionState => ({ signedIn: request.session.isLead === true, exhibitOrigin });
  register(router, API.getSession, ({ request }) => describe(request));
  register(router, API.signIn, async ({ body, request }) => {
    // The cookie would not be sent, and the link would be used up.
    if (isSecure && !request.secure) throw notKnownToBeSecure();
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
