import { join } from "node:path";
import { type DatabaseAddress, toVariables } from "@tourney/store";
import { type Account, chooseAccount, giveFolder } from "./account.js";
import { openDatabase } from "./database.js";
import { choosePort, type Instance, type Lock, readSecrets, removeLock, writeLock } from "./instance.js";
import { keepLogsSmall } from "./log-rotation.js";
import { PROGRAMS, SERVER_COMMAND, SHELF_DIR, WEB_DIR } from "./paths.js";
import { Program } from "./program.js";
import type { Reach } from "./reach.js";
import { say, step } from "./step.js";

export interface StackOptions {
  instance: Instance;
  /** The preferred ones: where one is taken, another is chosen. */
  ports: { app: number; exhibit: number; standIn: number | null };
  /** How it is to be reached, where that was said. */
  reach?: Reach;
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
  /** Where people open it. */
  publicUrl: string;
  /** What our other programs need to reach this instance. */
  environment: NodeJS.ProcessEnv;
  stop: () => Promise<void>;
}

async function choosePorts({ ports, instance, reach }: StackOptions): Promise<StackOptions["ports"]> {
  const chosen: number[] = Object.values(reach?.ports ?? {}).filter((port) => port !== null);
  const choose = async (label: string, preferred: number) => {
    const port = await choosePort(preferred, chosen);
    if (port !== preferred) say(`Port ${preferred} is taken; ${instance.name}'s ${label} uses ${port}.`);
    // Nothing listens on it yet, so the next one could choose it as well.
    chosen.push(port);
    return port;
  };
  const app = reach?.ports.app ?? (await choose("app", ports.app));
  const exhibit = reach?.ports.exhibit ?? (await choose("exhibit origin", ports.exhibit));
  return { app, exhibit, standIn: ports.standIn === null ? null : await choose("stand-in endpoint", ports.standIn) };
}

export function describeEnvironment(
  database: DatabaseAddress,
  ports: StackOptions["ports"],
  { instance, environment, reach }: Pick<StackOptions, "instance" | "environment" | "reach">,
): NodeJS.ProcessEnv {
  const secrets = readSecrets(instance);
  return {
    ...process.env,
    NODE_ENV: "production",
    // One arena for all threads of a program: with several, the server held 12 MB more.
    MALLOC_ARENA_MAX: "1",
    DATABASE_URL: undefined,
    ...toVariables(database),
    TOURNEY_RENDER_ROLE_PASSWORD: secrets.renderRolePassword,
    TOURNEY_DATA_DIR: instance.dataDir,
    TOURNEY_WEB_DIR: WEB_DIR,
    TOURNEY_SHELF_DIR: SHELF_DIR,
    TOURNEY_SECRET: secrets.secret,
    TOURNEY_APP_PORT: String(ports.app),
    TOURNEY_EXHIBIT_PORT: String(ports.exhibit),
    ...allowStandIn(ports.standIn),
    ...reach?.settings,
    ...environment,
  };
}

/** Nothing on this machine is asked for answers but what its operator lists, and the stand-in that was started here. */
const allowStandIn = (port: number | null): NodeJS.ProcessEnv =>
  port === null
    ? {}
    : { TOURNEY_LOCAL_ENDPOINTS: [process.env["TOURNEY_LOCAL_ENDPOINTS"] ?? [], `localhost:${port}`].flat().join(",") };

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
    "TOURNEY_LEAST_ROOM_MB",
    "TOURNEY_LOG_LEVEL",
  ];
  return Object.fromEntries(names.flatMap((name) => (full[name] === undefined ? [] : [[name, full[name]]])));
}

/** The account of the server, which owns the data; null when it runs as we do. */
async function prepareAccount({ dataDir }: Instance): Promise<Account | null> {
  const { account, reason } = await chooseAccount();
  if (account !== null) giveFolder(dataDir, account);
  if (reason !== null)
    say(
      `The server runs as root, because ${reason}: whoever breaks into it has root's rights. PostgreSQL and the browsers do not run as root. On a machine that others reach, start Tourney as a user of its own.`,
    );
  return account;
}

/** Starts everything an instance consists of, in order, and stops what has started when something does not. */
export async function startStack(options: StackOptions): Promise<Stack> {
  const { instance, standIn, reach } = options;
  const lock = new KeptLock(instance, reach?.settings ?? {});
  const stops: (() => Promise<void>)[] = [];
  const stop = async () => {
    for (const end of stops.toReversed()) await end();
    lock.remove();
  };
  try {
    const { database: given, isThrowaway = false } = options;
    const onChange = (isThere: boolean) => lock.note("PostgreSQL server", isThere);
    const account = await prepareAccount(instance);
    const database = await openDatabase(instance, {
      isThrowaway,
      account,
      onChange,
      ...(given === undefined ? {} : { given }),
    });
    stops.push(database.stop);
    const ports = await choosePorts(options);
    const environment = describeEnvironment(database.address, ports, options);
    const start = createStart(instance, { lock, stops });
    const home = account === null ? {} : { HOME: instance.dataDir };
    await start("server", [...SERVER_COMMAND], { env: { ...environment, ...home }, log: "server.log", account });
    const renderWorker = await start("render worker", [PROGRAMS.renderWorker], {
      env: renderEnvironment(environment),
      log: "render-worker.log",
    });
    if (standIn && ports.standIn !== null) {
      const flags = ["--port", ports.standIn, "--seed", standIn.seed, "--speed", standIn.speed].map(String);
      const args = [PROGRAMS.standIn, ...flags, ...(standIn.faults ? [] : ["--no-faults"])];
      const env = { ...process.env, ...home };
      await start("stand-in endpoint", args, { env, log: "stand-in.log", account });
    }
    const urls = {
      appUrl: `http://localhost:${ports.app}`,
      exhibitUrl: `http://127.0.0.1:${ports.exhibit}`,
      standInUrl: ports.standIn === null ? null : `http://localhost:${ports.standIn}/v1`,
    };
    const { host, port, name, user } = database.address;
    lock.open({ ...urls, database: { host, port, name, user, isOwn: database.isOwn } });
    // Nothing is fetched before there is an address to open.
    renderWorker.tell({ type: "opened" });
    return { ...urls, publicUrl: reach?.settings["TOURNEY_PUBLIC_URL"] ?? urls.appUrl, environment, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}

/** Starts programs, each with a log of its own that stays small, and adds how each is stopped. */
function createStart(instance: Instance, { lock, stops }: { lock: KeptLock; stops: (() => Promise<void>)[] }) {
  const logs = [join(instance.logDir, "postgres.log")];
  const endLogs = keepLogsSmall(() => logs);
  stops.push(() => {
    endLogs();
    return Promise.resolve();
  });
  return async (
    label: string,
    args: readonly string[],
    { log, ...how }: { env: NodeJS.ProcessEnv; log: string; account?: Account | null },
  ): Promise<Program> => {
    const logFile = join(instance.logDir, log);
    logs.push(logFile);
    const program = new Program({ label, args, ...how, logFile, onChange: (isThere) => lock.note(label, isThere) });
    stops.push(() => program.stop());
    await step(capitalize(label), () => program.start());
    return program;
  };
}

/** The lock of what we run, with what of it is away at the moment. */
class KeptLock {
  private away: string[] = [];
  private opened: Pick<Lock, "appUrl" | "exhibitUrl" | "standInUrl" | "database"> = {
    appUrl: null,
    exhibitUrl: null,
    standInUrl: null,
    database: null,
  };

  constructor(
    private readonly instance: Instance,
    private readonly settings: Record<string, string>,
  ) {
    this.write();
  }

  open(opened: KeptLock["opened"]): void {
    this.opened = opened;
    this.write();
  }

  note(label: string, isThere: boolean): void {
    this.away = [...this.away.filter((other) => other !== label), ...(isThere ? [] : [label])];
    try {
      this.write();
    } catch {
      // A full disk, as a rule, which is told of by what is away: nothing is to end for want of a note.
    }
  }

  remove(): void {
    removeLock(this.instance);
  }

  private write(): void {
    writeLock(this.instance, { ...this.opened, settings: this.settings, away: this.away });
  }
}

const capitalize = (text: string) => text[0]!.toUpperCase() + text.slice(1);
