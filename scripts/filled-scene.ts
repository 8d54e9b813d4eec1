import { readdirSync, readFileSync, rmSync } from "node:fs";
import { Agent } from "node:http";
import { join } from "node:path";
import pino from "pino";
import * as z from "zod";
import { startCluster } from "../packages/cli/src/cluster.js";
import { openInstance, readSecrets } from "../packages/cli/src/instance.js";
import { SERVER_COMMAND, STATE_DIR } from "../packages/cli/src/paths.js";
import { describeEnvironment } from "../packages/cli/src/supervisor.js";
import { connectDatabase, type Database } from "../packages/server/src/db/connection.js";
import { fillBallots, fillEntries } from "../packages/server/test-support/fill.js";
import { createFolderBlobStore } from "@tourney/store";
import { type Api, freePort, prepare, signIn, startProgram } from "./bench-server.js";
import { Voter } from "./booth-scene.js";
import { makePictures } from "./make-pictures.js";

export interface FilledSize {
  entries: number;
  ballots: number;
  voters: number;
}

const TAKES = 3;
/** Prompts come to twice the entrants, as in the largest suite that is meant: 100 prompts, 50 entrants, 3 takes. */
const sidesOf = (entries: number) => {
  const entrants = Math.max(2, Math.round(Math.sqrt(entries / TAKES / 2)));
  return { entrants, prompts: Math.max(1, Math.round(entries / TAKES / entrants)), concurrency: 1 };
};

export interface FilledScene {
  api: Api;
  environment: NodeJS.ProcessEnv;
  db: Database;
  editionId: string;
  panelId: string;
  panelToken: string;
  newVoter: () => Voter;
  /** Process ids of the server, and of all processes of PostgreSQL. */
  serverPid: number;
  listPostgresPids: () => number[];
  end: () => Promise<void>;
}

/** A server of its own with so much data in it, in the folder of an instance; an instance that is there already is served as it is. */
export async function openFilled(
  name: string,
  size: FilledSize,
  { isKept = false }: { isKept?: boolean } = {},
): Promise<FilledScene> {
  const instance = openInstance(name);
  const { databasePassword } = readSecrets(instance);
  const cluster = await startCluster(instance, { password: databasePassword, isThrowaway: !isKept });
  const closing: (() => unknown)[] = [cluster.stop];
  const end = async () => {
    for (const close of closing.toReversed()) await close();
    if (!isKept) rmSync(join(STATE_DIR, name), { recursive: true, force: true });
  };
  try {
    const ports = { app: await freePort(), exhibit: await freePort(), standIn: null };
    const environment = describeEnvironment(cluster.address, ports, {
      instance,
      environment: { TOURNEY_LOG_LEVEL: "warn", TOURNEY_JOINS_PER_ADDRESS: "100000" },
    });
    const server = await startProgram([...SERVER_COMMAND], environment, join(instance.logDir, "filled.log"));
    closing.push(() => server.kill("SIGKILL"));
    const api = await signIn(`http://localhost:${ports.app}`, environment);
    const db = await connectDatabase({ ...cluster.address, ssl: false }, pino({ level: "silent" }));
    closing.push(() => db.close());
    const there = await findPanel(db);
    const panel = there ?? (await fill(api, db, join(instance.dataDir, "blobs"), size));
    const agent = new Agent({ keepAlive: true, maxSockets: 64 });
    closing.push(() => agent.destroy());
    return {
      ...{ api, environment, db, ...panel, end },
      newVoter: () => new Voter(ports.app, agent),
      serverPid: server.pid!,
      listPostgresPids: () => listServers(cluster.address.host),
    };
  } catch (error) {
    await end();
    throw error;
  }
}

const Panel = z.object({ editionId: z.string(), panelId: z.string(), panelToken: z.string() });

const LARGEST_QUOTA = 1000;

/** The newest panel, where there is one. */
async function findPanel(db: Database): Promise<z.infer<typeof Panel> | undefined> {
  const [found] = await db.select(
    Panel,
    `SELECT edition_id AS "editionId", id AS "panelId", token AS "panelToken" FROM panels ORDER BY created_at DESC LIMIT 1`,
  );
  return found;
}

async function fill(
  api: Api,
  db: Database,
  blobsDir: string,
  { entries, ballots, voters }: FilledSize,
): Promise<z.infer<typeof Panel>> {
  // Nobody listens there, and the run is cancelled at once: its rows are what is wanted.
  const entered = await prepare(api, "large", sidesOf(entries), "http://127.0.0.1:9/v1");
  const run = await api<{ id: string }>("POST", "/api/runs", { ...entered, takes: TAKES });
  await api("POST", `/api/runs/${run.id}/cancel`);
  const blobs = createFolderBlobStore(blobsDir);
  await fillEntries(db, { blobs, pictures: await makePictures(blobs) });
  const { editionId } = entered;
  await api("POST", "/api/panels", { editionId, title: "Reading room", quota: LARGEST_QUOTA });
  const panel = (await findPanel(db))!;
  await fillBallots(db, { ...panel, voters, ballots });
  return panel;
}

/** Processes of the PostgreSQL whose data or socket lie in a folder. */
function listServers(folder: string): number[] {
  const read = (pid: string, file: string) => {
    try {
      return readFileSync(`/proc/${pid}/${file}`, "utf8");
    } catch {
      return "";
    }
  };
  const pids = readdirSync("/proc").filter((entry) => /^\d+$/.test(entry));
  const root = pids.find((pid) => {
    const words = read(pid, "cmdline").split("\0");
    return words[0]?.endsWith("/postgres") === true && words.includes(folder);
  });
  return pids
    .filter((pid) => pid === root || new RegExp(`^PPid:\\s+${root}$`, "m").test(read(pid, "status")))
    .map(Number);
}
