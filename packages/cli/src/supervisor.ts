import { join } from "node:path";
import { type DatabaseAddress, toVariables } from "@tourney/store";
import { openDatabase } from "./database.js";
import { choosePort, type Instance, readSecrets, removeLock, writeLock } from "./instance.js";
import { Keeper } from "./keeper.js";
import { PROGRAMS, SHELF_DIR, WEB_DIR } from "./paths.js";
import { say, step } from "./step.js";

export interface StackOptions {
  instance: Instance;
  ports: { app: number; exhibit: number; standIn: number | null };
  standIn?: { seed: number; speed: number; faults: boolean };
  isThrowaway?: boolean;
  /** Another than the environment names; null for the instance's own. */
  database?: DatabaseAddress | null;
  environment?: NodeJS.ProcessEnv;
}

export interface Stack {
  appUrl: string;
  exhibitUrl: string;
  standInUrl: string | null;
  /** What our other programs need to reach this instance. */
  environment: NodeJS.ProcessEnv;
  stop: () => Promise<void>;
}

async function choosePorts({ ports, instance }: StackOptions): Promise<StackOptions["ports"]> {
  const choose = async (label: string, preferred: number) => {
    const port = await choosePort(preferred);
    if (port !== preferred) say(`Port ${preferred} is taken; ${instance.name}'s ${label} uses ${port}.`);
    return port;
  };
  const app = await choose("app", ports.app);
  const exhibit = await choose("exhibit origin", ports.exhibit === app ? app + 1 : ports.exhibit);
  return { app, exhibit, standIn: ports.standIn === null ? null : await choose("stand-in endpoint", ports.standIn) };
}

export function describeEnvironment(
  database: DatabaseAddress,
  ports: StackOptions["ports"],
  { instance, environment }: StackOptions,
): NodeJS.ProcessEnv {
  const secrets = readSecrets(instance);
  return {
    ...process.env,
    NODE_ENV: "production",
    DATABASE_URL: undefined,
    ...toVariables(database),
    TOURNEY_RENDER_ROLE_PASSWORD: secrets.renderRolePassword,
    TOURNEY_DATA_DIR: instance.dataDir,
    TOURNEY_WEB_DIR: WEB_DIR,
    TOURNEY_SHELF_DIR: SHELF_DIR,
    TOURNEY_SECRET: secrets.secret,
    TOURNEY_APP_PORT: String(ports.app),
    TOURNEY_EXHIBIT_PORT: String(ports.exhibit),
    ...environment,
  };
}

/** The render worker drives hostile pages: it gets its own role's password and neither keys nor secrets. */
export function renderEnvironment(full: NodeJS.ProcessEnv): NodeJS.ProcessEnv {
  const names = [
    "PATH",
    "HOME",
    "TMPDIR",
    "LANG",
    "NODE_ENV",
    "TOURNEY_DB_HOST",
    "TOURNEY_DB_PORT",
    "TOURNEY_DB_NAME",
    "TOURNEY_DB_SSLMODE",
    "TOURNEY_DB_SSLROOTCERT",
    "NODE_EXTRA_CA_CERTS",
    "TOURNEY_RENDER_ROLE_PASSWORD",
    "TOURNEY_DATA_DIR",
    "TOURNEY_SHELF_DIR",
    "TOURNEY_SHELF_INTAKE",
    "HTTPS_PROXY",
    "NO_PROXY",
    "npm_config_registry",
    "TOURNEY_BROWSER",
    "TOURNEY_RENDERS",
    "TOURNEY_LOG_LEVEL",
  ];
  return Object.fromEntries(names.flatMap((name) => (full[name] === undefined ? [] : [[name, full[name]]])));
}

/** Starts everything an instance consists of, in order, and stops what has started when something does not. */
export async function startStack(options: StackOptions): Promise<Stack> {
  const { instance, standIn } = options;
  writeLock(instance, { appUrl: null, exhibitUrl: null, standInUrl: null, database: null });
  const stops: (() => Promise<void>)[] = [];
  const stop = async () => {
    for (const end of stops.toReversed()) await end();
    removeLock(instance);
  };
  try {
    const { database: given, isThrowaway = false } = options;
    const database = await openDatabase(instance, { isThrowaway, ...(given === undefined ? {} : { given }) });
    stops.push(database.stop);
    const ports = await choosePorts(options);
    const environment = describeEnvironment(database.address, ports, options);
    const start = async (label: string, args: readonly string[], env: NodeJS.ProcessEnv, log: string) => {
      const keeper = new Keeper({ label, args, env, logFile: join(instance.logDir, log) });
      stops.push(() => keeper.stop());
      await step(capitalize(label), () => keeper.start());
      return keeper;
    };
    await start("server", [PROGRAMS.server], environment, "server.log");
    const renderWorker = await start(
      "render worker",
      [PROGRAMS.renderWorker],
      renderEnvironment(environment),
      "render-worker.log",
    );
    if (standIn && ports.standIn !== null) {
      const flags = [
        "--port",
        String(ports.standIn),
        "--seed",
        String(standIn.seed),
        "--speed",
        String(standIn.speed),
        ...(standIn.faults ? [] : ["--no-faults"]),
      ];
      await start("stand-in endpoint", [PROGRAMS.standIn, ...flags], process.env, "stand-in.log");
    }
    const urls = {
      appUrl: `http://localhost:${ports.app}`,
      exhibitUrl: `http://127.0.0.1:${ports.exhibit}`,
      standInUrl: ports.standIn === null ? null : `http://localhost:${ports.standIn}/v1`,
    };
    const { host, port, name, user } = database.address;
    writeLock(instance, { ...urls, database: { host, port, name, user, isOwn: database.isOwn } });
    // Nothing is fetched before there is an address to open.
    renderWorker.tell({ type: "opened" });
    return { ...urls, environment, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}

const capitalize = (text: string) => text[0]!.toUpperCase() + text.slice(1);
