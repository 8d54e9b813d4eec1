import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { Feeds } from "../feed/feeds.js";
import type { RunService } from "./service.js";

export function runRoutes({ runs, feeds }: { runs: RunService; feeds: Feeds }): Router {
  const router = Router();
  register(router, API.planRun, ({ body }) => runs.plan(body));
  register(router, API.listRuns, ({ params }) => runs.list(params.editionId), feeds.kept.byCells);
  register(router, API.startRun, ({ body }) => runs.start(body));
  register(router, API.getRun, ({ params }) => runs.getDetail(params.runId));
  register(router, API.retryRun, ({ params, body }) => runs.retry(params.runId, body.generationIds ?? null));
  register(router, API.cancelRun, ({ params }) => runs.cancel(params.runId));
  register(router, API.pauseRun, ({ params }) => runs.pause(params.runId));
  register(router, API.resumeRun, ({ params }) => runs.resume(params.runId));
  register(router, API.changeRun, ({ params, body }) => runs.setBudget(params.runId, body.budgetUsd));
  register(router, API.extendRun, ({ params, body }) => runs.extend(params.runId, body.entrantIds));
  register(router, API.tryEndpoint, ({ params }) => runs.tryEndpoint(params.endpointId));
  register(router, API.listAttempts, ({ params }) => runs.listAttempts(params.generationId));
  return router;
}
