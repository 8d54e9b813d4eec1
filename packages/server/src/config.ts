import { join } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import { type DatabaseAddress, LEAST_ROOM_BYTES, readDatabaseAddress, renderRoleOf } from "@tourney/store";
import * as z from "zod";

const port = z.coerce.number().int().min(1).max(65_535);

const Environment = z.object({
  TOURNEY_RENDER_ROLE_PASSWORD: z.string().optional(),
  TOURNEY_DATA_DIR: z.string().min(1),
  TOURNEY_SHELF_DIR: z.string().optional(),
  TOURNEY_WEB_DIR: z.string().min(1),
  TOURNEY_SECRET: z.string().min(32),
  TOURNEY_APP_PORT: port,
  TOURNEY_EXHIBIT_PORT: port,
  TOURNEY_LISTEN: z.string().default("127.0.0.1"),
  TOURNEY_PUBLIC_URL: z
    .string()
    .regex(/^https?:\/\/[a-z0-9.-]+(?::\d+)?$/i, "an address without a path, as in https://tourney.example")
    .optional(),
  TOURNEY_STAGES_URL: z
    .string()
    .regex(/^https?:\/\/(?:\*\.)?[a-z0-9.-]+(?::\d+)?$/i, "as in https://*.stages.tourney.example")
    .optional(),
  TOURNEY_TRUSTED_PROXIES: z.string().min(1).optional(),
  TOURNEY_LOCAL_ENDPOINTS: z.string().default(""),
  TOURNEY_GENERATIONS: z.coerce.number().int().min(1).max(500).default(64),
  TOURNEY_JOINS_PER_ADDRESS: z.coerce.number().int().min(1).default(50),
  TOURNEY_LEAST_ROOM_MB: z.coerce
    .number()
    .min(0)
    .default(LEAST_ROOM_BYTES / 1e6),
  TOURNEY_DEMO: z.enum(["on", "off"]).default("off"),
  TOURNEY_LOG_LEVEL: z.enum(["silent", "error", "warn", "info", "debug"]).default("info"),
});

export interface Config {
  /** Whether sample data are made here, of which the lead is told how far they are. */
  isDemo: boolean;
  database: DatabaseAddress;
  /** The render worker's own role and the password to give it, or null to leave the role alone. */
  renderRole: { name: string; password: string } | null;
  dataDir: string;
  /** Libraries that stand in for public hosts. */
  shelfDir: string;
  webDir: string;
  /** Signs cookies and live addresses. */
  secret: string;
  /** The address of this machine that is listened on. */
  listen: string;
  appPort: number;
  exhibitPort: number;
  /** Where people open the app. */
  appOrigin: string;
  /** The hosts that the app answers at: the one that people open first, then those on this machine. */
  appHosts: string[];
  /** Whether people come by TLS: then cookies go by nothing else. */
  isSecure: boolean;
  /** Those who may say for whom they ask, as Express takes it: addresses, networks, or `loopback`; false for nobody. */
  trustedProxies: string | false;
  /** Another host than the app's, because cookies ignore ports. */
  exhibitOrigin: string;
  /** As the exhibit origin, with a `*` where every stage of a bout has a name of its own. */
  stageOrigin: string;
  /** Endpoints on this machine that may be asked: `host:port`, separated by commas, or `all`. */
  localEndpoints: string;
  generations: number;
  /** How many may come to a panel by its open link from one network address: a room of people has one. */
  joinsFromOnePlace: number;
  /** With less on the disk nothing new is begun. */
  leastRoomBytes: number;
  logLevel: string;
}

/** Reads the environment once. @throws TourneyError SETUP_FAILED that names every variable that is wrong. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const parsed = Environment.safeParse(environment);
  const database = readDatabaseAddress(environment);
  if (!parsed.success || database === null) {
    const wrong = parsed.error?.issues.map(({ path, message }) => `${path.join(".")}: ${message}`) ?? [];
    const all = [...(database === null ? ["TOURNEY_DB_HOST: it names no database"] : []), ...wrong];
    throw new TourneyError("SETUP_FAILED", {
      message: `The server's environment is not complete: ${all.join("; ")}`,
      reason: "The server takes its settings from TOURNEY_… variables.",
      remedy: "Start it with `./tourney start` or `./tourney demo`, which set them all.",
    });
  }
  const env = parsed.data;
  return {
    database,
    renderRole:
      env.TOURNEY_RENDER_ROLE_PASSWORD === undefined
        ? null
        : { name: renderRoleOf(database.name), password: env.TOURNEY_RENDER_ROLE_PASSWORD },
    dataDir: env.TOURNEY_DATA_DIR,
    shelfDir: env.TOURNEY_SHELF_DIR ?? join(env.TOURNEY_DATA_DIR, "shelf"),
    webDir: env.TOURNEY_WEB_DIR,
    secret: env.TOURNEY_SECRET,
    listen: env.TOURNEY_LISTEN,
    // Without a proxy anybody could say that they ask for somebody else.
    trustedProxies: env.TOURNEY_TRUSTED_PROXIES ?? (env.TOURNEY_PUBLIC_URL === undefined ? false : "loopback"),
    ...chooseOrigins({
      appPort: env.TOURNEY_APP_PORT,
      exhibitPort: env.TOURNEY_EXHIBIT_PORT,
      publicUrl: env.TOURNEY_PUBLIC_URL ?? null,
      stagesUrl: env.TOURNEY_STAGES_URL ?? null,
    }),
    localEndpoints: env.TOURNEY_LOCAL_ENDPOINTS,
    generations: env.TOURNEY_GENERATIONS,
    joinsFromOnePlace: env.TOURNEY_JOINS_PER_ADDRESS,
    leastRoomBytes: env.TOURNEY_LEAST_ROOM_MB * 1e6,
    isDemo: env.TOURNEY_DEMO === "on",
    logLevel: env.TOURNEY_LOG_LEVEL,
  };
}

/** Where processes write down the ballots that they hold, for those that hold them next. It can be deleted at any time. */
export const ballotsDirOf = ({ dataDir }: Pick<Config, "dataDir">): string => join(dataDir, "ballots");

/** The names under which this machine reaches itself. */
const ON_THIS_MACHINE = ["localhost", "127.0.0.1", "[::1]"];
/** In the pattern of stages, the host on which the lead sees outputs live: no stage of a bout is called so. */
const LIVE_HOST = "live";

/**
 * Where the app and the outputs are found. On this machine the app is at localhost, outputs at 127.0.0.1 and stages at names below localhost;
 * elsewhere outputs are below the app's own name, unless another pattern is given.
 */
export function chooseOrigins({
  appPort,
  exhibitPort,
  publicUrl,
  stagesUrl,
}: {
  appPort: number;
  exhibitPort: number;
  publicUrl: string | null;
  stagesUrl: string | null;
}): Pick<Config, "appPort" | "exhibitPort" | "appOrigin" | "appHosts" | "isSecure" | "exhibitOrigin" | "stageOrigin"> {
  const appOrigin = publicUrl === null ? `http://localhost:${appPort}` : new URL(publicUrl).origin;
  const { protocol, host } = new URL(appOrigin);
  const stageOrigin =
    stagesUrl ?? (publicUrl === null ? `http://*.localhost:${exhibitPort}` : `${protocol}//*.stages.${host}`);
  const isBelowLocalhost = stageOrigin === `http://*.localhost:${exhibitPort}`;
  return {
    appPort,
    exhibitPort,
    appOrigin,
    appHosts: [...new Set([host, ...ON_THIS_MACHINE.map((name) => `${name}:${appPort}`)])],
    isSecure: protocol === "https:",
    exhibitOrigin: isBelowLocalhost ? `http://127.0.0.1:${exhibitPort}` : stageOrigin.replace("*", LIVE_HOST),
    stageOrigin,
  };
}
