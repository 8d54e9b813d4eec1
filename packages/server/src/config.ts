import { join } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import * as z from "zod";

const port = z.coerce.number().int().min(1).max(65_535);

const Environment = z.object({
  TOURNEY_DB_HOST: z.string().min(1),
  TOURNEY_DB_PORT: port.default(5432),
  TOURNEY_DB_NAME: z.string().min(1),
  TOURNEY_DB_USER: z.string().min(1),
  TOURNEY_DB_PASSWORD: z.string(),
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

export interface DatabaseConfig {
  /** A host name, or the folder of a Unix socket. */
  host: string;
  port: number;
  name: string;
  user: string;
  password: string;
}

export interface Config {
  database: DatabaseConfig;
  /** Password to give the render worker's own role, or null to leave the role alone. */
  renderRolePassword: string | null;
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
  if (!parsed.success) {
    throw new TourneyError("SETUP_FAILED", {
      message: `The server's environment is not complete: ${parsed.error.issues.map(({ path, message }) => `${path.join(".")}: ${message}`).join("; ")}`,
      reason: "The server takes its settings from TOURNEY_… variables.",
      remedy: "Start it with `./tourney start` or `./tourney demo`, which set them all.",
    });
  }
  const env = parsed.data;
  return {
    database: {
      host: env.TOURNEY_DB_HOST,
      port: env.TOURNEY_DB_PORT,
      name: env.TOURNEY_DB_NAME,
      user: env.TOURNEY_DB_USER,
      password: env.TOURNEY_DB_PASSWORD,
    },
    renderRolePassword: env.TOURNEY_RENDER_ROLE_PASSWORD ?? null,
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
