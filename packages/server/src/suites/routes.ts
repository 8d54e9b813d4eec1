import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { SuiteService } from "./service.js";

export function suiteRoutes({ suites }: { suites: SuiteService }): Router {
  const router = Router();
  register(router, API.listEditions, () => suites.listEditions());
  register(router, API.getEdition, ({ params }) => suites.getEdition(params.editionId));
  register(router, API.importSuite, ({ body }) => suites.importSuite(body.yaml));
  return router;
}
