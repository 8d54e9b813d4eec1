import { type ChildProcess, spawn } from "node:child_process";
import { openSync, readFileSync, rmSync } from "node:fs";
import { Agent, request } from "node:http";
import { join } from "node:path";
import { toClientConfig } from "@tourney/store";
import pg from "pg";
import { startCluster } from "../packages/cli/src/cluster.js";
import { choosePort, openInstance, readSecrets } from "../packages/cli/src/instance.js";
import { PROGRAMS, SERVER_COMMAND, STATE_DIR } from "../packages/cli/src/paths.js";
import { describeEnvironment } from "../packages/cli/src/supervisor.js";
import { answerWith, byHand, RECORDING, suiteYaml } from "../packages/server/test-support/scenario.js";

/** A number given on the command line as `--name N`. */
export function flag(name: string, fallback: number): number {
  const at = process.argv.indexOf(`--${name}`);
  return at === -1 ? fallback : Number(process.argv[at + 1]);
}

/** An answer to a voter's request, with what its traffic showed. */
export interface Answer {
  status: number;
  body: unknown;
}

export interface Scene {
  panelUrl: string;
  panelToken: string;
  /** Where the server keeps its files. */
  dataDir: string;
  /** Where the app is, and where this machine reaches the outputs. */
  origin: string;
  exhibitsAt: string;
  /** The server's. */
  environment: NodeJS.ProcessEnv;
  /** To look into the database, as no voter can. */
  pool: pg.Pool;
  server: ChildProcess;
  startServer: () => Promise<ChildProcess>;
  newVoter: () => Voter;
  end: () => Promise<void>;
}

export interface SceneOptions {
  name: string;
  prompts: number;
  entrants: number;
  quota: number;
  /** The output of an entrant for a prompt: a page alone or a whole answer. */
  answer: (promptKey: string, entrant: number) => string;
}

/** One browser's cookies, as far as the booth goes. */
export class Voter {
  private cookie = "";

  constructor(
    private readonly port: number,
    private readonly agent: Agent,
  ) {}

  call(method: "GET" | "POST", path: string, body?: object): Promise<Answer> {
    const text = body ? JSON.stringify(body) : "";
    const headers = {
      ...(body ? { "Content-Type": "application/json", "Content-Length": Buffer.byteLength(text) } : {}),
      ...(this.cookie ? { Cookie: this.cookie } : {}),
    };
    return new Promise((resolve, reject) => {
      const sent = request(
        { host: "localhost", port: this.port, method, path, headers, agent: this.agent },
        (response) => {
          const set = response.headers["set-cookie"]?.[0];
          if (set !== undefined) this.cookie = set.split(";")[0]!;
          response.setEncoding("utf8");
          let received = "";
          response.on("data", (part: string) => (received += part));
          response.on("error", reject);
          response.on("end", () => resolve({ status: response.statusCode!, body: JSON.parse(received) as unknown }));
        },
      );
      sent.on("error", reject);
      sent.end(text);
    });
  }
}

/**
 * The real server on a real PostgreSQL that writes to disk, with an edition of which every prompt has one recorded entry of each entrant, and a panel
 * that votes on it.
 */
export async function openScene(options: SceneOptions): Promise<Scene> {
  const instance = openInstance(`${options.name}-${process.pid}`);
  const logPath = join(instance.logDir, "bench.log");
  const logFile = openSync(logPath, "a");
  const password = readSecrets(instance).databasePassword;
  const cluster = await startCluster(instance, { password, isThrowaway: false });
  const ports = { app: await choosePort(5610), exhibit: await choosePort(5710), standIn: null };
  const environment = describeEnvironment(cluster.address, ports, {
    instance,
    environment: { TOURNEY_LOG_LEVEL: "warn", TOURNEY_JOINS_PER_ADDRESS: "100000" },
  });
  const startServer = (): Promise<ChildProcess> => {
    const child = spawn(process.execPath, [...SERVER_COMMAND], {
      env: environment,
      stdio: ["ignore", logFile, logFile, "ipc"],
    });
    return new Promise((resolve, reject) => {
      child.once("message", () => resolve(child));
      child.once("exit", (code) =>
        reject(new Error(`The server ended with ${code}:\n${readFileSync(logPath, "utf8").slice(-1500)}`)),
      );
    });
  };
  // The voters' connections stay open, as a browser's do; what the client itself costs is on the same cores as the server.
  const agent = new Agent({ keepAlive: true, maxSockets: 64 });
  const newVoter = () => new Voter(ports.app, agent);
  const end = async () => {
    await cluster.stop();
    rmSync(join(STATE_DIR, instance.name), { recursive: true, force: true });
  };
  try {
    const server = await startServer();
    const pool = new pg.Pool({ ...toClientConfig({ ...cluster.address, ssl: false }), max: 2 });
    // When the cluster stops first, whatever made it stop is told instead.
    pool.on("error", () => undefined);
    const link = await readSignIn(environment);
    const panelUrl = await fill(newVoter(), pool, { ...options, signInToken: link.trim().split("/").at(-1)! });
    const panelToken = panelUrl.split("/").at(-1)!;
    const { dataDir } = instance;
    const at = { origin: `http://localhost:${ports.app}`, exhibitsAt: `http://127.0.0.1:${ports.exhibit}` };
    return { dataDir, ...at, environment, panelUrl, panelToken, pool, server, startServer, newVoter, end };
  } catch (error) {
    await end();
    throw error;
  }
}

async function readSignIn(environment: NodeJS.ProcessEnv): Promise<string> {
  const signIn = spawn(process.execPath, [PROGRAMS.admin, "sign-in"], { env: environment });
  let link = "";
  for await (const chunk of signIn.stdout) link += String(chunk);
  return link;
}

async function fill(
  lead: Voter,
  pool: pg.Pool,
  { prompts, entrants, quota, answer, signInToken }: SceneOptions & { signInToken: string },
): Promise<string> {
  await lead.call("POST", "/api/session", { token: signInToken });
  const keys = Array.from({ length: prompts }, (_, i) => `p${i}`);
  const { body } = await lead.call("POST", "/api/suites/import", { yaml: suiteYaml(...keys) });
  const editionId = (body as { edition: { id: string } }).edition.id;
  for (let n = 0; n < entrants; n++) {
    const added = await lead.call("POST", "/api/entrants", byHand(`entrant-${n}`));
    if (added.status !== 201) throw new Error(JSON.stringify(added.body));
    for (const promptKey of keys) {
      const own = answer(promptKey, n);
      const text = own.startsWith("<") ? answerWith(own) : own;
      const sent = { promptKey, entrantKey: `entrant-${n}`, take: 1, text };
      const stored = await lead.call("POST", `/api/editions/${editionId}/answers`, sent);
      if (stored.status >= 300) throw new Error(JSON.stringify(stored.body));
    }
  }
  await pool.query("UPDATE renders SET state = 'recorded', finished_at = now(), recording = $1::jsonb", [
    JSON.stringify(RECORDING),
  ]);
  const panel = await lead.call("POST", "/api/panels", { editionId, title: "Bench", quota });
  return (panel.body as { url: string }).url;
}
