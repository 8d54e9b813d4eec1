import { API } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { parseCookie } from "cookie";
import { type Request, type Response, Router } from "express";
import { ipKeyGenerator, rateLimit } from "express-rate-limit";
import type { Aside } from "../aside/aside.js";
import type { Feeds } from "../feed/feeds.js";
import { register } from "../http/register.js";
import { hashToken } from "../tokens.js";
import type { BallotListService } from "./ballot-list-service.js";
import type { BoothService, Caller } from "./booth-service.js";
import type { PanelService } from "./panel-service.js";

const YEAR_MS = 365 * 86_400_000;
/** Far above what a person can do, far below what guessing a token would need. */
const REQUESTS_A_MINUTE = 600;
/** A room full of voters may share an address. */
const REQUESTS_A_MINUTE_AND_ADDRESS = 60_000;

/** One cookie a panel, so that one browser can vote in several. */
const cookieName = (panelToken: string) => `tourney_voter_${hashToken(panelToken).slice(0, 12)}`;
const readVoterToken = (request: Request, panelToken: string): string | null =>
  parseCookie(request.headers.cookie ?? "")[cookieName(panelToken)] ?? null;

const callerOf = (request: Request, panelToken: string): Caller => ({
  voterToken: readVoterToken(request, panelToken),
  isLead: request.session.isLead === true,
  // Of the newer addresses a network has many: it counts as one.
  address: ipKeyGenerator(request.ip ?? ""),
});

function keepVoterToken(
  response: Response,
  { panelToken, voterToken, isSecure }: { panelToken: string; voterToken: string; isSecure: boolean },
): void {
  response.cookie(cookieName(panelToken), voterToken, {
    httpOnly: true,
    sameSite: "lax",
    secure: isSecure,
    path: "/api/booth",
    maxAge: YEAR_MS,
  });
}

interface VotingDeps {
  panels: PanelService;
  booth: BoothService;
  aside: Aside;
  feeds: Feeds;
  ballotList: BallotListService;
  /** Whether cookies go by TLS alone. */
  isSecure: boolean;
}

export function votingRoutes({ panels, booth, aside, feeds, ballotList, isSecure }: VotingDeps): Router {
  const router = Router();
  register(router, API.listPanels, ({ params }) => panels.list(params.editionId));
  register(router, API.addPanel, ({ body }) => panels.add(body));
  register(router, API.changePanel, ({ params, body }) => panels.change(params.panelId, body));
  register(router, API.setInvitation, ({ params, body }) => panels.setLinkOpen(params.panelId, body.open));
  register(router, API.inviteVoters, ({ params, body }) => panels.invite(params.panelId, body.names));
  register(router, API.revokeVoter, ({ params, body }) => panels.setRevoked(params.voterId, body.revoked));
  register(router, API.leaveVoterOut, ({ params, body }) => panels.leaveVoterOut(params.voterId, body.why));
  register(router, API.takeVoterIn, ({ params }) => panels.leaveVoterOut(params.voterId, null));
  register(router, API.leaveEntryOut, ({ params, body }) => panels.leaveEntryOut(params.entryId, body.why));
  register(router, API.takeEntryIn, ({ params }) => panels.leaveEntryOut(params.entryId, null));
  register(router, API.getVotingReport, aside.answer("getVotingReport"), feeds.kept.byBallots);
  register(router, API.listBallots, ({ params, query }) => ballotList.list(params.editionId, query));
  register(router, API.voidBallot, ({ params, body }) => ballotList.void(params.ballotId, body.why));
  register(router, API.restoreBallot, ({ params }) => ballotList.restore(params.ballotId));
  register(router, API.listAudit, ({ params }) => panels.listAudit(params.editionId));
  addBoothRoutes(router, { booth, isSecure });
  return router;
}

function addBoothRoutes(router: Router, { booth, isSecure }: Pick<VotingDeps, "booth" | "isSecure">): void {
  router.use(
    "/api/booth",
    rateLimit({
      windowMs: 60_000,
      limit: REQUESTS_A_MINUTE,
      keyGenerator: voterOrAddress,
      standardHeaders: "draft-8",
      legacyHeaders: false,
      handler: refuseTooMany,
    }),
  );
  const many = { windowMs: 60_000, limit: REQUESTS_A_MINUTE_AND_ADDRESS, legacyHeaders: false };
  router.use("/api/booth", rateLimit({ ...many, handler: refuseTooMany }));
  register(router, API.getBooth, ({ params, request }) =>
    booth.getState(params.panelToken, callerOf(request, params.panelToken)),
  );
  register(router, API.joinPanel, async ({ params, body, request, response }) => {
    const { panelToken } = params;
    const { state, newToken } = await booth.join(panelToken, callerOf(request, panelToken), body);
    if (newToken !== null) keepVoterToken(response, { panelToken, voterToken: newToken, isSecure });
    return state;
  });
  register(router, API.resumeVoting, async ({ params, body, request, response }) => {
    const { panelToken } = params;
    const state = await booth.resume(panelToken, { ...callerOf(request, panelToken), ...body });
    keepVoterToken(response, { panelToken, voterToken: body.voterToken, isSecure });
    return state;
  });
  register(router, API.getBouts, ({ params, request }) =>
    booth.getQueue(params.panelToken, readVoterToken(request, params.panelToken)),
  );
  register(router, API.castBallot, ({ params, body, request }) =>
    booth.cast(params.boutToken, (panelToken) => readVoterToken(request, panelToken), body),
  );
  register(router, API.skipBout, ({ params, body, request }) =>
    booth.skip(params.boutToken, (panelToken) => readVoterToken(request, panelToken), body.reason),
  );
  register(router, API.takeBackBallot, ({ params, request }) =>
    booth.takeBack(params.panelToken, readVoterToken(request, params.panelToken)),
  );
}

function refuseTooMany(): never {
  throw new TourneyError("RATE_LIMITED", {
    message: "There were too many requests at once.",
    reason: "Nobody votes that fast; a program may be at work.",
    remedy: "Wait a minute and try again. Nothing that was stored is lost.",
  });
}

/** Many voters may sit behind one address: who has a voter's cookie is counted by it, and everyone else by the address. */
function voterOrAddress(request: Request): string {
  const cookie = /(?:^|;\s*)tourney_voter_\w+=([\w-]{22,64})/.exec(request.headers.cookie ?? "")?.[1];
  return cookie ?? ipKeyGenerator(request.ip ?? "");
}
