import { API } from "@tourney/core/contract";
import { Router } from "express";
import { type Feeds, standingsSubject } from "../feed/feeds.js";
import { parseInput } from "../http/parse-input.js";
import { register, requireLead } from "../http/register.js";
import type { StandingsService } from "./service.js";

export function standingsRoutes({ standings, feeds }: { standings: StandingsService; feeds: Feeds }): Router {
  const router = Router();
  register(router, API.getStandings, ({ params, query }) => standings.getStandings(params.editionId, query));
  register(router, API.getPromptRatings, ({ params }) => standings.getPromptRatings(params.editionId));
  // Server-sent events: not an operation with one answer, so not in the catalogue.
  router.get("/api/editions/:editionId/standings/events", (request, response) => {
    requireLead(request);
    const { params, query } = API.getStandings;
    const { editionId } = parseInput(params, request.params, "The address");
    const { kind, versions } = parseInput(query, request.query, "The query");
    feeds.standings.subscribe(standingsSubject(editionId, { kind: kind ?? null, versions }), response);
  });
  return router;
}
