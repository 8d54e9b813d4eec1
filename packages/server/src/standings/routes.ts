import { API } from "@tourney/core/contract";
import { isEverything } from "@tourney/core/what-counts";
import { Router } from "express";
import type { Aside } from "../aside/aside.js";
import type { AsideCall } from "../aside/messages.js";
import type { Feeds } from "../feed/feeds.js";
import { register } from "../http/register.js";
import type { StoppingService } from "../stopping/service.js";
import type { StandingsService } from "./service.js";
import type { SnapshotService } from "./snapshot-service.js";

export function standingsRoutes({
  standings,
  snapshots,
  stopping,
  aside,
  feeds,
}: {
  standings: StandingsService;
  snapshots: SnapshotService;
  stopping: StoppingService;
  aside: Aside;
  feeds: Feeds;
}): Router {
  const router = Router();
  const { standings: kept, byBallots, sparingly, byCells } = feeds.kept;
  const chosen = aside.answer("getStandings");
  const getStandings = (call: AsideCall<"getStandings">) =>
    isEverything(call.query) ? standings.getFreshStandings(call.params.editionId) : chosen(call);
  register(router, API.getStandings, getStandings, kept);
  kept.pace(API.getStandings, ({ params, query }) => (isEverything(query) ? standings.restOf(params.editionId) : null));
  register(router, API.getStandingsBasis, (call) => aside.basis.getHead(call));
  register(router, API.getBasisPart, ({ params }) => aside.basis.getPart(params.part));
  register(router, API.getPromptRatings, ({ params }) => standings.getPromptRatings(params.editionId), sparingly);
  register(router, API.getRatingsBySeeing, aside.answer("getRatingsBySeeing"), byBallots);
  register(router, API.getMending, ({ params, query }) => standings.getMending(params.editionId, query), byCells);
  register(router, API.getRatingsOverTime, aside.answer("getRatingsOverTime"), byBallots);
  register(router, API.getContests, aside.answer("getContests"), byBallots);
  register(router, API.getStopping, aside.answer("getStopping"), byBallots);
  register(router, API.setStopping, ({ params, body }) => stopping.set(params.editionId, body));
  register(router, API.giveUpStopping, ({ params, body }) => stopping.setGivenUp(params.planId, body.givenUp));
  register(router, API.listViews, ({ params }) => standings.listViews(params.editionId));
  register(router, API.keepView, ({ params, body }) => standings.keepView(params.editionId, body));
  register(router, API.removeView, ({ params }) => standings.removeView(params.viewId));
  register(router, API.listSnapshots, ({ params }) => snapshots.list(params.editionId));
  register(router, API.takeSnapshot, ({ params, body }) => snapshots.take(params.editionId, body));
  register(router, API.setSnapshot, ({ params, body }) => snapshots.setRemoved(params.snapshotId, body.removed));
  register(router, API.getChanges, ({ params, query }) => snapshots.getChanges(params.snapshotId, query.until));
  return router;
}
