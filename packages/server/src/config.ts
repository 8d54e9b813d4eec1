import { join } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import { type DatabaseAddress, readDatabaseAddress, renderRoleOf } from "@tourney/store";
import * as z from "zod";

const port = z.coerce.number().int().min(1).max(65_535);

const Environment = z.object({
  TOURNEY_RENDER_ROLE_PASSWORD: z.string().optional(),
  TOURNEY_DATA_DIR: z.string().min(1),
  TOURNEY_SHELF_DIR: z.string().optional(),
  TOURNEY_WEB_DIR: z.string().min(1),
  TOURNEY_SECRET: z.string().min(32),
  TOURNEY_APP_HOST: z.string().default("localhost"),
  TOURNEY_APP_PORT: port,
  TOURNEY_EXHIBIT_HOST: z.string().default("127.0.0.1"),
  TOURNEY_EXHIBIT_PORT: port,
  TOURNEY_STAGE_HOST: z
    .string()
    .regex(/^(?:\*\.)?[a-z0-9.-]+$/i)
    .default("*.localhost"),
  TOURNEY_GENERATIONS: z.coerce.number().int().min(1).max(500).default(64),
  TOURNEY_LOG_LEVEL: z.enum(["silent", "error", "warn", "info", "debug"]).default("info"),
});

export interface Config {
  database: DatabaseAddress;
  /** The render worker's own role and the password to give it, or null to leave the role alone. */
  renderRole: { name: string; password: string } | null;
  dataDir: string;
  /** Libraries that stand in for public hosts. */
  shelfDir: string;
  webDir: string;
  /** Signs cookies and live addresses. */
  secret: string;
  appPort: number;
  exhibitPort: number;
  appOrigin: string;
  /** Another host than the app's, because cookies ignore ports. */
  exhibitOrigin: string;
  /** As the exhibit origin, with a `*` where every stage of a bout has a name of its own. */
  stageOrigin: string;
  generations: number;
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
    appPort: env.TOURNEY_APP_PORT,
    exhibitPort: env.TOURNEY_EXHIBIT_PORT,
    appOrigin: `http://${env.TOURNEY_APP_HOST}:${env.TOURNEY_APP_PORT}`,
    exhibitOrigin: `http://${env.TOURNEY_EXHIBIT_HOST}:${env.TOURNEY_EXHIBIT_PORT}`,
    stageOrigin: `http://${env.TOURNEY_STAGE_HOST}:${env.TOURNEY_EXHIBIT_PORT}`,
    generations: env.TOURNEY_GENERATIONS,
    logLevel: env.TOURNEY_LOG_LEVEL,
  };
}
