import {
  chmodSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { type DatabaseAddress, resolveConnection, toClientConfig } from "@tourney/store";
import pg from "pg";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Account, chooseAccount } from "./account.js";
import { type Cluster, isOwnFolder, startCluster } from "./cluster.js";
import { choosePort, openInstance } from "./instance.js";
import { PROGRAMS } from "./paths.js";
import { startStack } from "./supervisor.js";

const instance = openInstance("kept");
const neighbour = openInstance("kept-neighbour");
const changes: boolean[] = [];
let cluster: Cluster;
let account: Account | null;

/** Where its data lie: beside its socket, unless an account of our own reaches that. */
const dataFolder = () =>
  [join(instance.dir, "postgres"), cluster.address.host].find((folder) => existsSync(join(folder, "PG_VERSION")))!;

beforeAll(async () => {
  ({ account } = await chooseAccount());
  cluster = await startCluster(instance, {
    password: "for tests",
    isThrowaway: false,
    account,
    onChange: (isThere) => changes.push(isThere),
  });
});
afterAll(async () => {
  await cluster.stop();
  for (const folder of [cluster.address.host, dataFolder(), instance.dir, neighbour.dir])
    rmSync(folder, { recursive: true, force: true });
});

async function ask(address: DatabaseAddress, sql: string): Promise<unknown[]> {
  const client = new pg.Client(toClientConfig(await resolveConnection(address)));
  await client.connect();
  try {
    return (await client.query(sql)).rows as unknown[];
  } finally {
    await client.end();
  }
}

const readPid = () => Number(readFileSync(join(dataFolder(), "postmaster.pid"), "utf8").split("\n")[0]);

/** The servers that work on a folder of data. */
const findServers = (dataDir: string) =>
  readdirSync("/proc").filter((pid) => {
    try {
      const isServer = readFileSync(`/proc/${pid}/cmdline`, "utf8").includes(PROGRAMS.server);
      return isServer && readFileSync(`/proc/${pid}/environ`, "utf8").includes(`TOURNEY_DATA_DIR=${dataDir}\0`);
    } catch {
      // No process, or one that ended meanwhile.
      return false;
    }
  });

async function untilBack(): Promise<void> {
  for (let i = 0; i < 300 && changes.at(-1) !== true; i++) await sleep(100);
}

describe("Tourney's own PostgreSQL", () => {
  it("is started again whenever it is killed, with all that was stored", async () => {
    await ask(cluster.address, "CREATE TABLE kept (n int)");
    for (let n = 1; n <= 3; n++) {
      await ask(cluster.address, `INSERT INTO kept VALUES (${n})`);
      changes.length = 0;
      const pid = readPid();
      process.kill(pid, "SIGKILL");
      await untilBack();
      expect(changes).toEqual([false, true]);
      expect(readPid()).not.toBe(pid);
      expect(await ask(cluster.address, "SELECT n FROM kept ORDER BY n")).toHaveLength(n);
    }
  });

  it("is of the version of its data, and says what to do when that is gone", async () => {
    await cluster.stop();
    const file = join(dataFolder(), "PG_VERSION");
    const version = readFileSync(file, "utf8");
    writeFileSync(file, "9\n");
    await expect(startCluster(instance, { password: "for tests", isThrowaway: false, account })).rejects.toMatchObject({
      message: expect.stringContaining("PostgreSQL 9") as string,
      remedy: expect.stringContaining("postgresql-9") as string,
    });
    writeFileSync(file, version);
    cluster = await startCluster(instance, { password: "for tests", isThrowaway: false, account });
    expect(await ask(cluster.address, "SELECT n FROM kept")).toHaveLength(3);
  });

  it("keeps its data, logs and secrets from others on the machine", () => {
    const modeOf = (path: string) => statSync(path).mode & 0o777;
    expect([instance.dataDir, instance.logDir, dataFolder()].map(modeOf)).toEqual([0o700, 0o700, 0o700]);
    expect(modeOf(instance.dir) & 0o066).toBe(0);
    expect(modeOf(cluster.address.host) & 0o027).toBe(0);
    expect(modeOf(join(instance.logDir, "postgres.log")) & 0o077).toBe(0);
  });
});

describe("two Tourneys on one machine", () => {
  it("start beside each other, each on ports of its own", async () => {
    const preferred = await choosePort(4850);
    const ports = { app: preferred, exhibit: preferred + 1, standIn: null };
    const database = (name: string) => ({ ...cluster.address, name });
    const first = await startStack({ instance, ports, database: database("first") });
    try {
      const second = await startStack({ instance: neighbour, ports, database: database("second") });
      try {
        const urls = [first, second].flatMap(({ appUrl, exhibitUrl }) => [appUrl, exhibitUrl]);
        expect(new Set(urls.map((url) => new URL(url).port)).size).toBe(4);
        for (const { appUrl } of [first, second]) expect((await fetch(`${appUrl}/api/openapi.json`)).status).toBe(200);
        // What people reach has no more rights than it needs, whoever starts it.
        const owners = findServers(neighbour.dataDir).map((pid) => statSync(`/proc/${pid}`).uid);
        expect(owners).toEqual([account?.uid ?? process.getuid!()]);
        expect(statSync(neighbour.dataDir).uid).toBe(owners[0]);
      } finally {
        await second.stop();
      }
    } finally {
      await first.stop();
    }
  });
});

describe("a folder for the socket among the system's temporary files", () => {
  it("is used when it is ours alone, and not when somebody else could listen in it", () => {
    const folder = mkdtempSync(join(tmpdir(), "tourney-socket-"));
    const uid = process.getuid!();
    try {
      expect(isOwnFolder(folder, uid)).toBe(true);
      expect(isOwnFolder(folder, uid + 1)).toBe(false);
      chmodSync(folder, 0o755);
      expect(isOwnFolder(folder, uid)).toBe(false);
      symlinkSync(instance.dataDir, join(folder, "link"));
      expect(isOwnFolder(join(folder, "link"), uid)).toBe(false);
      expect(isOwnFolder(join(folder, "none"), uid)).toBe(false);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
