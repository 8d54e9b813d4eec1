import { API } from "@tourney/core/contract";
import { Router } from "express";
import { KeptAnswers } from "../changes/kept-answers.js";
import type { ContestService } from "../contests/service.js";
import type { Feeds } from "../feed/feeds.js";
import { parseInput } from "../http/parse-input.js";
import { register, requireLead } from "../http/register.js";
import type { StoppingService } from "../stopping/service.js";
import type { StandingsService } from "./service.js";
import type { SnapshotService } from "./snapshot-service.js";

export function standingsRoutes({
  standings,
  snapshots,
  contests,
  stopping,
  feeds,
}: {
  standings: StandingsService;
  snapshots: SnapshotService;
  contests: ContestService;
  stopping: StoppingService;
  feeds: Feeds;
}): Router {
  const router = Router();
  const kept = new KeptAnswers(feeds.changes);
  register(router, API.getStandings, ({ params, query }) => standings.getStandings(params.editionId, query));
  register(router, API.getStandingsBasis, ({ params, query }) => standings.getBasis(params.editionId, query), kept);
  register(router, API.getPromptRatings, ({ params }) => standings.getPromptRatings(params.editionId));
  register(router, API.getRatingsBySeeing, ({ params }) => standings.getRatingsBySeeing(params.editionId), kept);
  register(router, API.getMending, ({ params, query }) => standings.getMending(params.editionId, query), kept);
  register(
    router,
    API.getRatingsOverTime,
    ({ params, query }) => standings.getRatingsOverTime(params.editionId, query),
    kept,
  );
  register(router, API.getContests, ({ params }) => contests.getResults(params.editionId), kept);
  register(router, API.getStopping, ({ params }) => stopping.getState(params.editionId), kept);
  register(router, API.setStopping, ({ params, body }) => stopping.set(params.editionId, body));
  register(router, API.giveUpStopping, ({ params, body }) => stopping.setGivenUp(params.planId, body.givenUp));
  register(router, API.listViews, ({ params }) => standings.listViews(params.editionId));
  register(router, API.keepView, ({ params, body }) => standings.keepView(params.editionId, body));
  register(router, API.removeView, ({ params }) => standings.removeView(params.viewId));
  register(router, API.listSnapshots, ({ params }) => snapshots.list(params.editionId));
  register(router, API.takeSnapshot, ({ params, body }) => snapshots.take(params.editionId, body));
  register(router, API.setSnapshot, ({ params, body }) => snapshots.setRemoved(params.snapshotId, body.removed));
  register(router, API.getChanges, ({ params, query }) => snapshots.getChanges(params.snapshotId, query.until));
  // Server-sent events: not an operation with one answer, so not in the catalogue.
  router.get("/api/editions/:editionId/standings/events", (request, response) => {
    requireLead(request);
    const { editionId } = parseInput(API.getStandings.params, request.params, "The address");
    feeds.standings.subscribe(editionId, response);
  });
  return router;
}
