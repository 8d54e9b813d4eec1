import { randomUUID } from "node:crypto";
import { API } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import createPgStore from "connect-pg-simple";
import type { Request, RequestHandler } from "express";
import session from "express-session";
import helmet from "helmet";
import type { Pool } from "pg";
import type { Logger } from "pino";
import { pinoHttp } from "pino-http";
import type { Changes } from "../changes/changes.js";
import type { Config } from "../config.js";

declare module "express-session" {
  interface SessionData {
    isLead: boolean;
  }
}

const DAY_MS = 86_400_000;

/** One structured line a request, under an id that the answer carries too. Cookies stay out of the log. */
export function logRequests(log: Logger): RequestHandler {
  return pinoHttp({
    logger: log,
    genReqId: (_request, response) => {
      const id = randomUUID();
      response.setHeader("X-Request-Id", id);
      return id;
    },
    // What went wrong was written down where it was answered, with its trace.
    customLogLevel: () => "debug",
    serializers: {
      req: (req: { method: string; url: string }) => ({ method: req.method, path: req.url.split("?")[0] }),
      res: () => undefined,
    },
  });
}

/** The app's own policy: nothing from elsewhere, and frames from the exhibit origin only. */
export function protectPages({
  exhibitOrigin,
  stageOrigin,
  isSecure,
}: Pick<Config, "exhibitOrigin" | "stageOrigin" | "isSecure">): RequestHandler {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        // Components measure and place themselves by style attributes.
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", "data:", "blob:"],
        frameSrc: [exhibitOrigin, stageOrigin],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    referrerPolicy: { policy: "no-referrer" },
    strictTransportSecurity: isSecure ? { maxAge: 180 * 86_400, includeSubDomains: false } : false,
    crossOriginEmbedderPolicy: false,
  });
}

const PgStore = createPgStore(session);
type Touch = Parameters<InstanceType<typeof PgStore>["touch"]>;

/** A session lasts longer when it is used: that it was is written at most once in this time, where each request would write a row and wait for it. */
const TOUCHED_MS = 3_600_000;
/** Leads are few; where there were ever more, that they were noted is forgotten. */
const MOST_NOTED = 1000;

class SessionStore extends PgStore {
  private readonly touchedAt = new Map<string, number>();

  override touch(...[id, content, done]: Touch): void {
    const now = Date.now();
    if (now - (this.touchedAt.get(id) ?? -Infinity) < TOUCHED_MS) {
      done?.();
      return;
    }
    if (this.touchedAt.size >= MOST_NOTED) this.touchedAt.clear();
    this.touchedAt.set(id, now);
    super.touch(id, content, done);
  }
}

/** Sessions of the lead, kept in the database so that a restart signs nobody out. */
export function keepSessions(pool: Pool, { secret, isSecure }: Pick<Config, "secret" | "isSecure">): RequestHandler {
  return session({
    name: "tourney",
    secret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    cookie: { httpOnly: true, sameSite: "lax", secure: isSecure, maxAge: 30 * DAY_MS },
    store: new SessionStore({ pool, tableName: "sessions", pruneSessionInterval: 3600 }),
  });
}

/** What the lead reads is kept by no cache on the way; pictures, which never change, say otherwise of themselves. */
export const keepFromCaches: RequestHandler = (_request, response, next) => {
  response.set("Cache-Control", "no-store");
  next();
};

const isReading = ({ method }: Request): boolean => method === "GET" || method === "HEAD";

/**
 * Changing requests after which everything that is kept still holds: what they write is read each time, by nobody who keeps it. A lead who signs in, or who fills in a sheet, does
 * not make the server read a year's ballots again. A test asks for each of them and finds that the database tells of no change.
 */
export const KEEPING = [
  ...[API.planRun, API.previewSuite],
  ...[API.signIn, API.signOut, API.addToken, API.revokeToken],
  ...[API.saveSheet, API.removeSheet, API.keepView, API.removeView, API.addReportLink, API.setReportLink],
];
const addressOf = (method: string, path: string): string => `${method.toLowerCase()} ${path}`;
const KEEPING_ADDRESSES: ReadonlySet<string> = new Set(KEEPING.map(({ method, path }) => addressOf(method, path)));

/** Voters look at nothing that is kept: what they change is told by the database, as what others change. */
const isOfVoter = ({ originalUrl }: Request): boolean => originalUrl.startsWith("/api/booth/");

/** By the route that has answered; where none has, it may have changed anything. */
const isKeeping = ({ method, route }: Request): boolean =>
  KEEPING_ADDRESSES.has(addressOf(method, (route as { path: string } | undefined)?.path ?? ""));

/** Notes that a request may have changed something before its answer goes out: whoever gets it and asks again sees the change. */
export const noteChanges =
  (changes: Pick<Changes, "noteOwn">): RequestHandler =>
  (request, response, next) => {
    if (!isReading(request) && !isOfVoter(request)) {
      const end = response.end.bind(response) as (...args: unknown[]) => typeof response;
      response.end = ((...args: unknown[]) => {
        if (!isKeeping(request)) changes.noteOwn();
        return end(...args);
      }) as typeof response.end;
    }
    next();
  };

/** Refuses what another site makes a browser send: a changing request must come from the app's own origin. */
export const refuseForeignOrigins: RequestHandler = (request, _response, next) => {
  const { origin } = request.headers;
  if (isReading(request) || origin === undefined || URL.parse(origin)?.host === request.headers.host) {
    next();
    return;
  }
  throw new TourneyError("NOT_ALLOWED", {
    message: `A request from ${origin} was refused.`,
    reason: "Only Tourney's own pages may change anything.",
    remedy: "Open Tourney at its own address.",
  });
};
