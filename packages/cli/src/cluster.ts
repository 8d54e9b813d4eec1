import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import {
  chmodSync,
  chownSync,
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { dirname, join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { TourneyError } from "@tourney/core/errors";
import { type DatabaseAddress, ensureDatabase } from "@tourney/store";
import { findPostgresBin } from "./debian.js";
import { type Instance, processStart } from "./instance.js";
import { ROOT } from "./paths.js";
import { runCommand } from "./run-command.js";

/** A running private PostgreSQL cluster, reached through a Unix socket in its own folder only, unless its settings say otherwise. */
export interface Cluster {
  address: DatabaseAddress;
  process: ChildProcess;
  stop: () => Promise<void>;
}

interface ClusterOptions {
  /** The superuser's password. */
  password: string;
  /** Fast and unsafe, for tests: a crash may lose data. */
  isThrowaway: boolean;
  /** Further settings of the server, by PostgreSQL's names for them. */
  settings?: Readonly<Record<string, string>>;
}

const USER = "tourney";
const DATABASE = "tourney";
/** Only names the socket: nothing listens on the network. */
const PORT = 5432;
const LONGEST_SOCKET_PATH = 107;
const START_LIMIT_MS = 60_000;

/** Who the server runs as: `postgres` when we are root, since it refuses to run as root; ourselves otherwise. */
function findOwner(): { uid: number; gid: number } | null {
  if (process.getuid?.() !== 0) return null;
  const line = readFileSync("/etc/passwd", "utf8")
    .split("\n")
    .find((entry) => entry.startsWith("postgres:"));
  const [, , uid, gid] = line?.split(":") ?? [];
  return { uid: Number(uid), gid: Number(gid) };
}

function canEnter(folder: string, owner: { uid: number; gid: number } | null): boolean {
  if (owner === null) return true;
  return (
    spawnSync("setpriv", [`--reuid=${owner.uid}`, `--regid=${owner.gid}`, "--clear-groups", "test", "-x", folder])
      .status === 0
  );
}

/**
 * The cluster's folder: under .tourney/, unless the owner cannot enter it (root's home is closed to `postgres`) or the
 * socket's path would be too long; then a folder that can be reached, named after this checkout.
 */
function chooseFolder(instance: Instance, owner: { uid: number; gid: number } | null): string {
  const own = join(instance.dir, "postgres");
  const isShort = join(own, `.s.PGSQL.${PORT}`).length <= LONGEST_SOCKET_PATH;
  if (isShort && canEnter(instance.dir, owner)) return own;
  const name = createHash("sha256").update(ROOT).digest("hex").slice(0, 12);
  return join(owner ? "/var/lib" : "/tmp", `tourney-${name}`, instance.name, "postgres");
}

/** Starts the instance's cluster, making it first when there is none. A half-made one is set aside, a left-over server stopped. */
export async function startCluster(instance: Instance, options: ClusterOptions): Promise<Cluster> {
  const bin = findPostgresBin()!;
  const owner = findOwner();
  const folder = chooseFolder(instance, owner);
  await stopLeftOver(folder);
  if (!existsSync(join(folder, "PG_VERSION")) || !existsSync(`${folder}.made`))
    await makeCluster(bin, folder, owner, options);
  const child = spawnServer(bin, folder, owner, { ...options, logFile: join(instance.logDir, "postgres.log") });
  const { password, settings } = options;
  const port = Number(settings?.["port"] ?? PORT);
  await waitUntilReady(bin, { folder, port }, child, join(instance.logDir, "postgres.log"));
  const address: DatabaseAddress = {
    host: folder,
    port,
    name: DATABASE,
    user: USER,
    password,
    sslMode: "disable",
    sslRootCert: null,
  };
  await makeDatabase(address);
  return { address, process: child, stop: () => stopServer(child) };
}

async function makeCluster(
  bin: string,
  folder: string,
  owner: { uid: number; gid: number } | null,
  { password, isThrowaway }: ClusterOptions,
): Promise<void> {
  if (existsSync(folder)) renameSync(folder, `${folder}.set-aside-${Date.now()}`);
  mkdirSync(folder, { recursive: true });
  chmodSync(folder, 0o700);
  const passwordFile = join(dirname(folder), ".initial-password");
  writeFileSync(passwordFile, password, { mode: 0o600 });
  if (owner) {
    chownSync(folder, owner.uid, owner.gid);
    chownSync(passwordFile, owner.uid, owner.gid);
  }
  const args = [
    "-D",
    folder,
    "-U",
    USER,
    `--pwfile=${passwordFile}`,
    "--auth=scram-sha-256",
    "--encoding=UTF8",
    "--locale=C.UTF-8",
  ];
  const { code, stderr } = await runCommand(join(bin, "initdb"), isThrowaway ? [...args, "--no-sync"] : args, {
    ...owner,
    cwd: "/",
  });
  rmSync(passwordFile, { force: true });
  if (code === 0) {
    writeFileSync(`${folder}.made`, "");
    return;
  }
  throw new TourneyError("SETUP_FAILED", {
    message: `A PostgreSQL cluster could not be made in ${folder}.`,
    reason: stderr.trim().split("\n").slice(-3).join(" "),
    remedy: "Check that the disk has space and the folder can be written, then start again.",
  });
}

function spawnServer(
  bin: string,
  folder: string,
  owner: { uid: number; gid: number } | null,
  { logFile, isThrowaway, settings: own }: ClusterOptions & { logFile: string },
): ChildProcess {
  const settings = {
    listen_addresses: "",
    unix_socket_directories: folder,
    unix_socket_permissions: "0700",
    port: String(PORT),
    max_connections: "100",
    ...(isThrowaway ? { fsync: "off", synchronous_commit: "off", full_page_writes: "off" } : {}),
    ...own,
  };
  const drop = owner ? [`--reuid=${owner.uid}`, `--regid=${owner.gid}`, "--clear-groups"] : [];
  const log = openSync(logFile, "a");
  // The death signal makes the server end with us even when we are killed; its own group keeps Ctrl-C for us to handle.
  const child = spawn(
    "setpriv",
    [
      ...drop,
      "--pdeathsig",
      "INT",
      "--",
      join(bin, "postgres"),
      "-D",
      folder,
      ...Object.entries(settings).flatMap(([key, value]) => ["-c", `${key}=${value}`]),
    ],
    { stdio: ["ignore", log, log], detached: true, cwd: "/" },
  );
  closeSync(log);
  return child;
}

async function waitUntilReady(
  bin: string,
  { folder, port }: { folder: string; port: number },
  child: ChildProcess,
  logFile: string,
): Promise<void> {
  const deadline = Date.now() + START_LIMIT_MS;
  while (Date.now() < deadline && child.exitCode === null) {
    if ((await runCommand(join(bin, "pg_isready"), ["-h", folder, "-p", String(port), "-q"])).code === 0) return;
    await sleep(30);
  }
  child.kill("SIGQUIT");
  const lines = readFileSync(logFile, "utf8").trim().split("\n").slice(-4).join(" ");
  throw new TourneyError("SETUP_FAILED", {
    message: "Tourney's PostgreSQL does not start.",
    reason: lines,
    remedy: `See ${logFile}. A full disk is the usual cause; the data in ${folder} is kept.`,
  });
}

async function makeDatabase(address: DatabaseAddress): Promise<void> {
  try {
    await ensureDatabase(address);
  } catch (cause) {
    throw new TourneyError("SETUP_FAILED", {
      message: "The database could not be made.",
      reason: cause instanceof TourneyError ? `${cause.message} ${cause.reason}` : String(cause),
      remedy:
        "If secrets.json in the instance's folder was lost or changed, restore it: it holds the database's password.",
      cause,
    });
  }
}

/** Stops a server that an earlier, killed start left behind in this folder. */
async function stopLeftOver(folder: string): Promise<void> {
  const pidFile = join(folder, "postmaster.pid");
  if (!existsSync(pidFile)) return;
  const pid = Number(readFileSync(pidFile, "utf8").split("\n")[0]);
  const isOurs = processStart(pid) !== null && readFileSync(`/proc/${pid}/cmdline`, "utf8").includes(folder);
  if (!isOurs) return;
  process.kill(pid, "SIGINT");
  for (let i = 0; i < 200 && processStart(pid) !== null; i++) await sleep(50);
}

async function stopServer(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const ended = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGINT");
  await Promise.race([ended, sleep(10_000).then(() => child.kill("SIGQUIT"))]);
}
