import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import {
  chmodSync,
  chownSync,
  closeSync,
  existsSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { TourneyError } from "@tourney/core/errors";
import { type DatabaseAddress, ensureDatabase } from "@tourney/store";
import { type Account, asAccount, findAccount } from "./account.js";
import { isRunning, Keeper } from "./keeper.js";
import { readTail } from "./log-file.js";
import { findPostgresBin } from "./debian.js";
import { type Instance, processStart } from "./instance.js";
import { ROOT } from "./paths.js";
import { runCommand } from "./run-command.js";

/** A running private PostgreSQL cluster, reached through a Unix socket in its own folder only, unless its settings say otherwise. */
export interface Cluster {
  address: DatabaseAddress;
  stop: () => Promise<void>;
}

interface ClusterOptions {
  /** The superuser's password. */
  password: string;
  /** Fast and unsafe, for tests: a crash may lose data. */
  isThrowaway: boolean;
  /** Whose programs reach it, besides ourselves. */
  account?: Account | null;
  /** Told when the server is away, and when it is back. */
  onChange?: (isThere: boolean) => void;
  /** Further settings of the server, by PostgreSQL's names for them. */
  settings?: Readonly<Record<string, string>>;
}

const USER = "tourney";
const DATABASE = "tourney";
/** Only names the socket: nothing listens on the network. */
const PORT = 5432;
const LONGEST_SOCKET_PATH = 107;
const START_LIMIT_MS = 60_000;
const RECOVERY_LIMIT_MS = 30 * 60_000;
/** What `pg_isready` ends with when the server is there and takes no connections yet. */
const IS_STARTING = 1;

/** Who the server runs as: `postgres` when we are root, since it refuses to run as root; ourselves otherwise. */
const findOwner = (): Account | null => (process.getuid?.() === 0 ? findAccount("postgres") : null);

function canEnter(folder: string, owner: Account | null): boolean {
  if (owner === null) return true;
  const [command, ...args] = [...asAccount(owner), "test", "-x", folder];
  return spawnSync(command, args).status === 0;
}

/** Where a cluster's data lie, and the folder of its socket. */
interface Folders {
  data: string;
  socket: string;
}

/** Whether a folder is there, is none that a link leads to, and can be entered by its owner alone. */
export function isOwnFolder(folder: string, uid: number): boolean {
  const found = lstatSync(folder, { throwIfNoEntry: false });
  return found?.isDirectory() === true && found.uid === uid && (found.mode & 0o077) === 0;
}

/** A folder in which one account listens and another one alone reaches it. */
function makeSocketFolder(folder: string, owner: Account, account: Account): string {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  chownSync(folder, owner.uid, account.gid);
  chmodSync(folder, 0o750);
  return folder;
}

/**
 * The cluster's folders: under .tourney/. Where the server's user cannot enter that (root's home is closed to `postgres`), all of it lies
 * under /var/lib, which only root can write; where the socket's path would be too long, the socket alone lies among the system's temporary
 * files, in a folder that nobody else may have prepared.
 *
 * @throws TourneyError SETUP_FAILED when somebody else did
 */
function chooseFolders(instance: Instance, owner: Account | null, account: Account | null): Folders {
  const data = join(instance.dir, "postgres");
  const isShort = (folder: string) => join(folder, `.s.PGSQL.${PORT}`).length <= LONGEST_SOCKET_PATH;
  const name = createHash("sha256").update(ROOT).digest("hex").slice(0, 12);
  if (owner !== null) {
    if (isShort(data) && canEnter(instance.dir, owner)) {
      const socket = account === null ? data : makeSocketFolder(join(instance.dir, "socket"), owner, account);
      return { data, socket };
    }
    const elsewhere = join("/var/lib", `tourney-${name}`, instance.name, "postgres");
    return { data: elsewhere, socket: elsewhere };
  }
  if (isShort(data)) return { data, socket: data };
  const uid = process.getuid!();
  // Where a cluster lay before its socket could be elsewhere.
  const former = join("/tmp", `tourney-${name}`, instance.name, "postgres");
  if (existsSync(join(former, "PG_VERSION")) && isOwnFolder(former, uid)) return { data: former, socket: former };
  const socket = join(tmpdir(), `tourney-${uid}-${name}-${instance.name}`);
  if (!existsSync(socket)) mkdirSync(socket, { mode: 0o700 });
  if (isOwnFolder(socket, uid)) return { data, socket };
  throw new TourneyError("SETUP_FAILED", {
    message: `The folder ${socket} is not ours alone.`,
    reason:
      "PostgreSQL's socket would lie there, because the path of this checkout is too long for it; whoever made the folder could listen.",
    remedy: "Remove that folder, or move Tourney to a shorter path.",
  });
}

/** Deletes an instance's cluster, wherever it lies. It must not be running. */
export function removeCluster(instance: Instance): void {
  const { data, socket } = chooseFolders(instance, findOwner(), null);
  for (const folder of [data, `${data}.made`, socket]) rmSync(folder, { recursive: true, force: true });
}

/** The programs that can read a cluster: those of its own version. @throws TourneyError SETUP_FAILED when they are not there any more */
function findBin(data: string): string {
  const file = join(data, "PG_VERSION");
  const version = existsSync(file) ? readFileSync(file, "utf8").trim() : null;
  const bin = findPostgresBin(version);
  if (bin !== null) return bin;
  throw new TourneyError("SETUP_FAILED", {
    message: `The data in ${data} are of PostgreSQL ${version ?? ""}, which is not on this machine any more.`,
    reason: "Another version of PostgreSQL cannot read them. They are kept as they are.",
    remedy: `Install it beside the newer one (\`apt-get install postgresql-${version ?? ""}\`), or move the data to the newer one (docs/architecture.md, "A newer PostgreSQL").`,
  });
}

/**
 * Starts the instance's cluster and keeps it running, making it first when there is none. A half-made one is set aside, a left-over server
 * stopped.
 */
export async function startCluster(instance: Instance, options: ClusterOptions): Promise<Cluster> {
  const owner = findOwner();
  const { data: folder, socket } = chooseFolders(instance, owner, options.account ?? null);
  const bin = findBin(folder);
  await stopLeftOver(folder);
  if (!existsSync(join(folder, "PG_VERSION")) || !existsSync(`${folder}.made`))
    await makeCluster(bin, folder, owner, options);
  const { password, settings, onChange } = options;
  const port = Number(settings?.["port"] ?? PORT);
  const logFile = join(instance.logDir, "postgres.log");
  const keeper = new Keeper({
    label: "PostgreSQL server",
    logFile,
    launch: async () => {
      // One that was killed may have left processes behind that still hold its folder.
      await stopLeftOver(folder);
      const child = spawnServer(bin, { folder, socket, owner }, { ...options, logFile });
      await waitUntilReady(bin, { folder, socket, port }, child, logFile);
      return child;
    },
    end: stopServer,
    ...(onChange === undefined ? {} : { onChange }),
  });
  await keeper.start();
  const address: DatabaseAddress = {
    host: socket,
    port,
    name: DATABASE,
    user: USER,
    password,
    sslMode: "disable",
    sslRootCert: null,
  };
  await makeDatabase(address);
  return { address, stop: () => keeper.stop() };
}

async function makeCluster(
  bin: string,
  folder: string,
  owner: Account | null,
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
  { folder, socket, owner }: { folder: string; socket: string; owner: Account | null },
  { logFile, isThrowaway, settings: own }: ClusterOptions & { logFile: string },
): ChildProcess {
  const settings = {
    listen_addresses: "",
    unix_socket_directories: socket,
    // Its folder says who reaches it.
    unix_socket_permissions: socket === folder ? "0700" : "0777",
    port: String(PORT),
    max_connections: "100",
    // Statements are short. Where tables are large PostgreSQL takes those of a voter's turn for long ones, and compiling them takes ten times as long as they do.
    jit: "off",
    ...(isThrowaway ? { fsync: "off", synchronous_commit: "off", full_page_writes: "off" } : {}),
    ...own,
  };
  const log = openSync(logFile, "a", 0o600);
  // The death signal makes the server end with us even when we are killed; its own group keeps Ctrl-C for us to handle.
  const [command, ...args] = [
    ...(owner ? asAccount(owner) : []),
    ...["setpriv", "--pdeathsig", "INT", "--"],
    join(bin, "postgres"),
    ...["-D", folder],
    ...Object.entries(settings).flatMap(([key, value]) => ["-c", `${key}=${value}`]),
  ];
  const child = spawn(command!, args, { stdio: ["ignore", log, log], detached: true, cwd: "/" });
  closeSync(log);
  return child;
}

async function waitUntilReady(
  bin: string,
  { folder, socket, port }: { folder: string; socket: string; port: number },
  child: ChildProcess,
  logFile: string,
): Promise<void> {
  const startedAt = performance.now();
  let limitMs = START_LIMIT_MS;
  while (performance.now() - startedAt < limitMs && isRunning(child)) {
    const { code } = await runCommand(join(bin, "pg_isready"), ["-h", socket, "-p", String(port), "-q"]);
    if (code === 0) return;
    // PostgreSQL is replaying its log after a crash, which may take minutes; killing it would only restart that.
    if (code === IS_STARTING) limitMs = RECOVERY_LIMIT_MS;
    await sleep(30);
  }
  if (isRunning(child)) await killServer(child);
  const lines = readTail(logFile);
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
  const ended = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGINT");
  await Promise.race([ended, sleep(10_000).then(() => killServer(child))]);
}

async function killServer(child: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => child.once("exit", resolve));
  child.kill("SIGQUIT");
  await ended;
}
