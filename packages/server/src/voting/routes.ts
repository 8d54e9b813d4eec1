import { API } from "@tourney/core/contract";
import { parseCookie } from "cookie";
import { type Request, type Response, Router } from "express";
import { rateLimit } from "express-rate-limit";
import { register } from "../http/register.js";
import { hashToken } from "../tokens.js";
import type { BoothService } from "./booth-service.js";
import type { PanelService } from "./panel-service.js";

const YEAR_MS = 365 * 86_400_000;
/** Far above what a person can do, far below what guessing a token would need. */
const REQUESTS_A_MINUTE = 600;

/** One cookie a panel, so that one browser can vote in several. */
const cookieName = (panelToken: string) => `tourney_voter_${hashToken(panelToken).slice(0, 12)}`;
const readVoterToken = (request: Request, panelToken: string): string | null =>
  parseCookie(request.headers.cookie ?? "")[cookieName(panelToken)] ?? null;

export function votingRoutes({ panels, booth }: { panels: PanelService; booth: BoothService }): Router {
  const router = Router();
  router.use(
    "/api/booth",
    rateLimit({ windowMs: 60_000, limit: REQUESTS_A_MINUTE, standardHeaders: "draft-8", legacyHeaders: false }),
  );
  router.use("/api/booth", (_request: Request, response: Response, next) => {
    response.set("Cache-Control", "no-store");
    next();
  });
  register(router, API.listPanels, ({ params }) => panels.list(params.editionId));
  register(router, API.addPanel, ({ body }) => panels.add(body));
  register(router, API.getBooth, ({ params, request }) =>
    booth.getState(params.panelToken, readVoterToken(request, params.panelToken)),
  );
  register(router, API.joinPanel, async ({ params, body, request, response }) => {
    const { panelToken } = params;
    const { state, newToken } = await booth.join(panelToken, readVoterToken(request, panelToken), body);
    if (newToken !== null) {
      response.cookie(cookieName(panelToken), newToken, {
        httpOnly: true,
        sameSite: "lax",
        path: "/api/booth",
        maxAge: YEAR_MS,
      });
    }
    return state;
  });
  register(router, API.getBouts, ({ params, request }) =>
    booth.getQueue(params.panelToken, readVoterToken(request, params.panelToken)),
  );
  register(router, API.castBallot, ({ params, body, request }) =>
    booth.cast(params.boutToken, (panelToken) => readVoterToken(request, panelToken), body),
  );
  register(router, API.takeBackBallot, ({ params, request }) =>
    booth.takeBack(params.panelToken, readVoterToken(request, params.panelToken)),
  );
  return router;
}
