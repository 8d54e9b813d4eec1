import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { SuiteService } from "./service.js";

export function suiteRoutes({ suites }: { suites: SuiteService }): Router {
  const router = Router();
  register(router, API.listEditions, () => suites.listEditions());
  register(router, API.getEdition, ({ params }) => suites.getEdition(params.editionId));
  register(router, API.importSuite, ({ body }) => suites.importSuite(body.yaml, body.digest));
  register(router, API.previewSuite, ({ body }) => suites.preview(body.yaml));
  register(router, API.exportEdition, ({ params }) => suites.exportFile(params.editionId));
  register(router, API.compareEditions, ({ params, query }) => suites.compare(query.from, params.editionId));
  register(router, API.duplicateSuite, ({ params, body }) => suites.duplicate(params.editionId, body));
  register(router, API.archiveSuite, ({ params, body }) => suites.setArchived(params.suiteKey, body.archived));
  register(router, API.getSuiteDraft, ({ params }) => suites.getDraft(params.suiteKey));
  register(router, API.saveSuiteDraft, ({ params, body }) => suites.saveDraft(params.suiteKey, body.yaml));
  register(router, API.dropSuiteDraft, ({ params }) => suites.dropDraft(params.suiteKey));
  return router;
}
