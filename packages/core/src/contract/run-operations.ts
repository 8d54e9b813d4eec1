import * as z from "zod";
import { Id } from "./common.js";
import { Attempt } from "./generation.js";
import { defineOperation } from "./operation.js";
import { Run, RunChange, RunDetail, RunInput, RunPlan, RunRetry } from "./run.js";

const editionParams = z.object({ editionId: Id });
const runParams = z.object({ runId: Id });

/** What can be done with runs. */
export const RUN_OPERATIONS = {
  planRun: defineOperation({
    id: "planRun",
    method: "post",
    path: "/api/runs/plan",
    scope: "run",
    summary: "What a run would do, cost and take, without starting it",
    body: RunInput,
    response: RunPlan,
  }),
  tryEndpoint: defineOperation({
    id: "tryEndpoint",
    method: "post",
    path: "/api/endpoints/:endpointId/try",
    scope: "run",
    summary: "End the pauses of an endpoint: what fails there is tried at once",
    params: z.object({ endpointId: Id }),
    response: z.object({ ended: z.int() }),
  }),
  listRuns: defineOperation({
    id: "listRuns",
    method: "get",
    path: "/api/editions/:editionId/runs",
    summary: "The runs of an edition, newest first",
    params: editionParams,
    response: z.array(Run),
  }),
  startRun: defineOperation({
    id: "startRun",
    method: "post",
    path: "/api/runs",
    scope: "run",
    summary: "Queue the missing generations of prompts × entrants × takes",
    body: RunInput,
    response: Run,
    status: 201,
  }),
  getRun: defineOperation({
    id: "getRun",
    method: "get",
    path: "/api/runs/:runId",
    summary: "Progress, spend and failures of a run",
    params: runParams,
    response: RunDetail,
  }),
  retryRun: defineOperation({
    id: "retryRun",
    method: "post",
    path: "/api/runs/:runId/retry",
    scope: "run",
    summary: "Queue the run's failed and cancelled generations again, all or those given",
    params: runParams,
    body: RunRetry,
    response: RunDetail,
  }),
  cancelRun: defineOperation({
    id: "cancelRun",
    method: "post",
    path: "/api/runs/:runId/cancel",
    scope: "run",
    summary: "Cancel what has not been sent yet",
    params: runParams,
    response: RunDetail,
  }),
  pauseRun: defineOperation({
    id: "pauseRun",
    method: "post",
    path: "/api/runs/:runId/pause",
    scope: "run",
    summary: "Send nothing more for now; what is in flight is let finish",
    params: runParams,
    response: RunDetail,
  }),
  resumeRun: defineOperation({
    id: "resumeRun",
    method: "post",
    path: "/api/runs/:runId/resume",
    scope: "run",
    summary: "Go on with a paused run",
    params: runParams,
    response: RunDetail,
  }),
  changeRun: defineOperation({
    id: "changeRun",
    method: "put",
    path: "/api/runs/:runId",
    scope: "run",
    summary: "Change a run's budget; what it held back is queued again as far as it is covered",
    params: runParams,
    body: RunChange,
    response: RunDetail,
  }),
  extendRun: defineOperation({
    id: "extendRun",
    method: "post",
    path: "/api/runs/:runId/entrants",
    scope: "run",
    summary: "Add entrants to a run, over the same prompts and takes",
    params: runParams,
    body: z.strictObject({ entrantIds: z.array(Id).min(1).max(200) }),
    response: RunDetail,
  }),
  listAttempts: defineOperation({
    id: "listAttempts",
    method: "get",
    path: "/api/generations/:generationId/attempts",
    summary: "Every request that was sent for a generation, oldest first",
    params: z.object({ generationId: Id }),
    response: z.array(Attempt),
  }),
} as const;
