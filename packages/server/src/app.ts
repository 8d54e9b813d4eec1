import { join } from "node:path";
import express, { type Express, type RequestHandler } from "express";
import type { Pool } from "pg";
import type { Logger } from "pino";
import type { Aside } from "./aside/aside.js";
import { authRoutes } from "./auth/routes.js";
import { readBearer, tokenRoutes } from "./auth/token-routes.js";
import type { Config } from "./config.js";
import { compareRoutes } from "./compare/routes.js";
import { searchRoutes } from "./search/routes.js";
import { exportRoutes } from "./exports/routes.js";
import { courseRoutes } from "./course/routes.js";
import { entrantRoutes } from "./entrants/routes.js";
import { entryRoutes } from "./entries/routes.js";
import { readProgress } from "./demo/demo-progress.js";
import { healthRoutes } from "./health/routes.js";
import type { Lull } from "./http/lull.js";
import {
  keepFromCaches,
  keepSessions,
  logRequests,
  noteChanges,
  protectPages,
  refuseForeignOrigins,
} from "./http/middleware.js";
import { offerBodies, refusePacked } from "./http/bodies.js";
import { describeApi } from "./http/openapi.js";
import { refuseOtherHosts } from "./http/own-hosts.js";
import { noSuchOperation, problemHandler } from "./http/problem-handler.js";
import { staticWeb } from "./http/static-web.js";
import { redoRoutes } from "./redos/routes.js";
import { renderRoutes } from "./renders/routes.js";
import { sheetRoutes } from "./sheets/routes.js";
import type { Feeds } from "./feed/feeds.js";
import { feedRoutes, LINES_PATH } from "./feed/routes.js";
import { runRoutes } from "./runs/routes.js";
import type { Services } from "./services.js";
import { reportRoutes, sharedReportRoutes } from "./report/routes.js";
import { standingsRoutes } from "./standings/routes.js";
import { suiteRoutes } from "./suites/routes.js";
import { votingRoutes } from "./voting/routes.js";
import { wallRoutes } from "./wall/routes.js";

interface AppDeps {
  config: Config;
  pool: Pool;
  log: Logger;
  services: Services;
  feeds: Feeds;
  aside: Aside;
  lull: Lull;
}

/** The app: the API and the interface on one origin. Does not listen. */
export function createApp({ config, pool, log, services, feeds, aside, lull }: AppDeps): Express {
  const app = express();
  app.disable("x-powered-by");
  app.set("trust proxy", config.trustedProxies);
  app.use(logRequests(log));
  app.use(protectPages(config));
  app.use(refuseOtherHosts(config.appHosts));
  app.use(
    "/api",
    lull.note(({ originalUrl }) => !originalUrl.startsWith(LINES_PATH)),
    keepFromCaches,
    refuseForeignOrigins,
    keepSessions(pool, config),
    readBearer(services.tokens),
    noteChanges(feeds.changes),
    refusePacked,
    offerBodies(services.readers),
  );
  app.get("/api/openapi.json", answerWith(describeApi()));
  app.use(
    authRoutes({ ...config, auth: services.auth }),
    tokenRoutes(services),
    suiteRoutes(services),
    entrantRoutes(services),
    feedRoutes({ feeds }),
    runRoutes({ ...services, feeds }),
    wallRoutes({ ...services, feeds }),
    entryRoutes({ ...services, incomingDir: incomingDir(config) }),
    redoRoutes(services),
    sheetRoutes(services),
    compareRoutes(services),
    searchRoutes(services),
    exportRoutes(services),
    renderRoutes({ renders: services.renders }),
    votingRoutes({ ...services, feeds, aside, isSecure: config.isSecure }),
    standingsRoutes({ ...services, feeds, aside }),
    reportRoutes(services),
    courseRoutes({ ...services, feeds }),
    healthRoutes({
      room: services.room,
      countRecorders: () => services.renders.countRecorders(),
      readDemo: () => (config.isDemo ? readProgress(services.demo) : Promise.resolve(null)),
    }),
  );
  app.use("/api", noSuchOperation);
  app.use(sharedReportRoutes(services));
  app.use(staticWeb(config.webDir));
  app.use(problemHandler);
  return app;
}

/** Where files that are sent here lie while they are read. */
export const incomingDir = ({ dataDir }: Pick<Config, "dataDir">): string => join(dataDir, "incoming");

const answerWith =
  (document: object): RequestHandler =>
  (_request, response) => {
    response.json(document);
  };
