import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { StandingsService } from "./service.js";

export function standingsRoutes({ standings }: { standings: StandingsService }): Router {
  const router = Router();
  register(router, API.getStandings, ({ params, query }) =>
    standings.getStandings(params.editionId, query.kind ?? null),
  );
  return router;
}
