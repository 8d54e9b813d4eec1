import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { RunService } from "./service.js";

export function runRoutes({ runs }: { runs: RunService }): Router {
  const router = Router();
  register(router, API.listRuns, ({ params }) => runs.list(params.editionId));
  register(router, API.startRun, ({ body }) => runs.start(body));
  register(router, API.getRun, ({ params }) => runs.getDetail(params.runId));
  register(router, API.retryRun, ({ params }) => runs.retry(params.runId));
  register(router, API.cancelRun, ({ params }) => runs.cancel(params.runId));
  return router;
}
