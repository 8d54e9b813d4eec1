import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { SearchService } from "./service.js";

export function searchRoutes({ search }: { search: SearchService }): Router {
  const router = Router();
  register(router, API.search, ({ params, query }) => search.search(params.editionId, query.words));
  return router;
}
