import { randomBytes } from "node:crypto";
import { chmodSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { join } from "node:path";
import * as z from "zod";
import { STATE_DIR } from "./paths.js";

/** A Tourney with data of its own: `demo` with samples, `real` for work, others for tests. */
export interface Instance {
  name: string;
  dir: string;
  logDir: string;
  dataDir: string;
}

const Secrets = z.object({ databasePassword: z.string(), renderRolePassword: z.string(), secret: z.string() });
export type Secrets = z.infer<typeof Secrets>;

const Lock = z.object({
  pid: z.int(),
  startedAtTicks: z.string(),
  appUrl: z.string().nullable(),
  exhibitUrl: z.string().nullable(),
  standInUrl: z.string().nullable(),
  /** How it is reached, as its programs were told. */
  settings: z.record(z.string(), z.string()).default({}),
  /** What ended by itself and is being started again. */
  away: z.array(z.string()).default([]),
  /** Null until it is open. The password is in the instance's secrets when the database is its own, and else in the environment alone. */
  database: z
    .object({ host: z.string(), port: z.int(), name: z.string(), user: z.string(), isOwn: z.boolean() })
    .nullable()
    .default(null),
});
export type Lock = z.infer<typeof Lock>;

export function openInstance(name: string): Instance {
  const dir = join(STATE_DIR, name);
  const instance = { name, dir, logDir: join(dir, "log"), dataDir: join(dir, "data") };
  // Whoever else has an account on this machine reads neither answers nor logs. PostgreSQL's own user, which root starts it as, has to get
  // through to its cluster.
  makeFolder(dir, process.getuid?.() === 0 ? 0o711 : 0o700);
  makeFolder(instance.logDir, 0o700);
  makeFolder(instance.dataDir, 0o700);
  return instance;
}

function makeFolder(path: string, mode: number): void {
  mkdirSync(path, { recursive: true, mode });
  // It may be older than this rule.
  if ((statSync(path).mode & 0o777) !== mode) chmodSync(path, mode);
}

/** The instance's passwords, made on first use and readable by the owner alone. */
export function readSecrets({ dir }: Instance): Secrets {
  const path = join(dir, "secrets.json");
  if (existsSync(path)) return Secrets.parse(JSON.parse(readFileSync(path, "utf8")));
  const make = () => randomBytes(24).toString("base64url");
  const secrets = { databasePassword: make(), renderRolePassword: make(), secret: make() + make() };
  writeFileSync(path, JSON.stringify(secrets), { mode: 0o600 });
  return secrets;
}

const lockPath = ({ dir }: Instance) => join(dir, "lock.json");

/** When a process started, in clock ticks since boot: tells it from a later one with the same number. Null when it is gone. */
export function processStart(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    // A zombie has ended; only its parent has not noticed.
    return fields[0] === "Z" ? null : fields[19]!;
  } catch {
    return null;
  }
}

/** The lock of the process that runs the instance, or null; a lock whose process is gone is removed. */
export function readLock(instance: Instance): Lock | null {
  const path = lockPath(instance);
  if (!existsSync(path)) return null;
  const lock = Lock.safeParse(parseJson(readFileSync(path, "utf8")));
  if (lock.success && processStart(lock.data.pid) === lock.data.startedAtTicks) return lock.data;
  rmSync(path, { force: true });
  return null;
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    // A lock cut short by a full disk or a power cut is as good as none.
    return null;
  }
}

export function writeLock(instance: Instance, lock: Omit<z.input<typeof Lock>, "pid" | "startedAtTicks">): void {
  const own = { pid: process.pid, startedAtTicks: processStart(process.pid)! };
  const path = lockPath(instance);
  // Whoever reads it meanwhile is to find a whole one.
  writeFileSync(`${path}.new`, JSON.stringify({ ...own, ...lock }));
  renameSync(`${path}.new`, path);
}

export function removeLock(instance: Instance): void {
  rmSync(lockPath(instance), { force: true });
}

/** Whether a port can be listened on at an address. */
export function canListen(port: number, host = "127.0.0.1"): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer();
    server.once("error", () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });
}

/** The preferred port if it is free, else the next free one of the hundred after it that is not one of those given. */
export async function choosePort(preferred: number, except: readonly number[] = []): Promise<number> {
  for (let port = preferred; port < preferred + 100; port++) {
    if (!except.includes(port) && (await canListen(port))) return port;
  }
  return preferred;
}
