import { API } from "@tourney/core/contract";
import { Router } from "express";
import type { ConnectionTester } from "../generations/test-connection.js";
import { register } from "../http/register.js";
import type { EntrantService } from "./service.js";

export function entrantRoutes({
  entrants,
  testConnection,
}: {
  entrants: EntrantService;
  testConnection: ConnectionTester;
}): Router {
  const router = Router();
  register(router, API.listEntrants, () => entrants.list());
  register(router, API.addEntrant, ({ body }) => entrants.add(body));
  register(router, API.replaceEntrant, ({ params, body }) => entrants.replace(params.entrantId, body));
  register(router, API.listEntrantVersions, ({ params }) => entrants.listVersions(params.entrantId));
  register(router, API.retireEntrant, ({ params, body }) => entrants.setRetired(params.entrantId, body.retired));
  register(router, API.removeEntrant, async ({ params }) => {
    await entrants.remove(params.entrantId);
    return { removed: true };
  });
  register(router, API.importEntrants, ({ body }) => entrants.importEntrants(body.yaml));
  register(router, API.testConnection, async ({ params }) => testConnection(await entrants.getRow(params.entrantId)));
  return router;
}
