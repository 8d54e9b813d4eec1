import { spawn } from "node:child_process";
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { TourneyError } from "@tourney/core/errors";
import { type DatabaseAddress, describeAddress, readDatabaseAddress } from "@tourney/store";
import { removeCluster } from "./cluster.js";
import { installDebianPackages } from "./debian.js";
import { type Instance, type Lock, openInstance, readLock, readSecrets } from "./instance.js";
import { PROGRAMS, ROOT } from "./paths.js";
import { passThrough, runCommand } from "./run-command.js";
import { type ReachFlags, readReach } from "./reach.js";
import { fillShelf } from "./shelf-command.js";
import { say, step } from "./step.js";
import { describeEnvironment, type Stack, startStack } from "./supervisor.js";

const PORTS = {
  real: { app: 4600, exhibit: 4601, standIn: null },
  demo: { app: 4610, exhibit: 4611, standIn: 9105 },
} as const;

/** The demo's models answer this many times faster than their own pace, so that the demo is up within a minute. */
const DEMO_SPEED = 20;
/** Chosen so that every made-up model shows its own talent and each kind of finding is on the wall. */
const DEMO_SEED = 2887;
/** All sample voters join from this machine. */
const DEMO_ENVIRONMENT = { TOURNEY_DEMO: "on", TOURNEY_JOINS_PER_ADDRESS: "1000" };

/** Starts Tourney on real data and stays in front until Ctrl-C. */
export async function start(flags: ReachFlags): Promise<void> {
  await runInFront("real", flags, () => Promise.resolve());
}

/** Starts Tourney with the demo scenario: sample data, made through the same ways as any other. */
export async function demo({ fresh = false, ...flags }: ReachFlags & { fresh?: boolean }): Promise<void> {
  if (fresh) await removeDemo();
  await runInFront("demo", flags, seedDemo);
}

/** Deletes the demo's data: sample data, and whatever was entered beside them. @throws TourneyError CONFLICT while it runs */
async function removeDemo(): Promise<void> {
  const instance = openInstance("demo");
  if (readLock(instance) !== null)
    throw new TourneyError("CONFLICT", {
      message: "The demo is running.",
      reason: "Its data cannot be deleted while it uses them.",
      remedy: "Stop it with `./tourney stop`, then run `./tourney demo --fresh` again. Nothing was deleted.",
    });
  await step("Deleting the demo's data", async () => {
    removeCluster(instance);
    await rm(instance.dir, { recursive: true, force: true });
  });
}

async function runInFront(
  name: "real" | "demo",
  flags: ReachFlags,
  prepare: (stack: Stack) => Promise<void>,
): Promise<void> {
  const instance = openInstance(name);
  const running = readLock(instance);
  if (running) {
    await sayRunning(instance, running);
    return;
  }
  const reach = await readReach(flags);
  await installDebianPackages({ withPostgres: readDatabaseAddress(process.env) === null });
  const sample =
    name === "demo"
      ? { standIn: { seed: DEMO_SEED, speed: DEMO_SPEED, faults: true }, environment: DEMO_ENVIRONMENT }
      : {};
  const interrupted = new AbortController();
  const onSignal = () => interrupted.abort();
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) process.on(signal, onSignal);
  const stack = await startStack({ instance, ports: PORTS[name], reach, ...sample });
  try {
    const ended = new Promise((resolve) => {
      if (interrupted.signal.aborted) resolve(null);
      interrupted.signal.addEventListener("abort", resolve);
    });
    const { stdout } = await runAdmin(["sign-in"], stack.environment);
    say(`\nTourney is at ${stack.publicUrl}${name === "demo" ? " (sample data)" : ""}`);
    // The demo's link asks for the tour of its screens.
    console.log(`Sign in as the lead, once: ${stdout.trim()}${name === "demo" ? "?first-look" : ""}`);
    say("Ctrl-C stops it.");
    // Nobody waits for libraries to sign in, nor do the demo's recordings: what they need comes by itself.
    const prepared = prepare(stack);
    void prepared.then(fillShelf, () => undefined);
    await Promise.race([ended, prepared]);
    await ended;
  } finally {
    await step("Stopping", stack.stop);
  }
}

/** What is being started again, in words. */
const describeAway = ({ away }: Lock): string => (away.length === 0 ? "" : `; being started again: ${away.join(", ")}`);

const publicUrlOf = ({ settings, appUrl }: Lock): string | null => settings["TOURNEY_PUBLIC_URL"] ?? appUrl;

async function sayRunning(instance: Instance, lock: Lock): Promise<void> {
  if (lock.appUrl === null || lock.database === null) {
    say(`Tourney (${instance.name}) is being started by process ${lock.pid}.`);
    return;
  }
  say(`Tourney (${instance.name}) is running at ${publicUrlOf(lock)}${describeAway(lock)}.`);
  const { stdout } = await runAdmin(["sign-in"], environmentOf(instance, lock));
  console.log(`Sign in as the lead, once: ${stdout.trim()}`);
}

/** The environment for programs that work on an instance which another process runs. */
function environmentOf(instance: Instance, lock: Lock): NodeJS.ProcessEnv {
  const portOf = (url: string | null) => Number(new URL(url!).port);
  const ports = { app: portOf(lock.appUrl), exhibit: portOf(lock.exhibitUrl), standIn: null };
  return describeEnvironment(addressOf(instance, lock), ports, {
    instance,
    reach: { ports: { app: null, exhibit: null }, settings: lock.settings },
  });
}

/** How to reach the database that a running instance works on. @throws TourneyError SETUP_FAILED when its password is not known here */
function addressOf(instance: Instance, { database }: Lock): DatabaseAddress {
  const { isOwn, ...place } = database!;
  if (isOwn)
    return { ...place, password: readSecrets(instance).databasePassword, sslMode: "disable", sslRootCert: null };
  const named = readDatabaseAddress(process.env);
  if (named !== null && named.host === place.host && named.port === place.port && named.name === place.name)
    return named;
  throw new TourneyError("SETUP_FAILED", {
    message: `Tourney (${instance.name}) works on the database ${place.name} at ${place.host}:${place.port}.`,
    reason: `${named === null ? "No database is named here" : `Here ${describeAddress(named)} is named`}, and passwords of other servers are kept nowhere.`,
    remedy: "Set DATABASE_URL, or the TOURNEY_DB_… variables, as for the process that runs.",
  });
}

async function runAdmin(args: readonly string[], env: NodeJS.ProcessEnv) {
  const result = await runCommand(process.execPath, [PROGRAMS.admin, ...args], { env });
  if (result.code === 0) return result;
  throw new TourneyError("SETUP_FAILED", {
    message: `\`tourney ${args.join(" ")}\` failed.`,
    reason: result.stderr.trim(),
    remedy: "See what is named above, then try again.",
  });
}

/** Makes the demo's sample data, or goes on making them. */
async function seedDemo({ environment, standInUrl }: Stack): Promise<void> {
  const files = ["--suite", join(ROOT, "demo/suite.yaml"), "--entrants", join(ROOT, "demo/entrants.yaml")];
  await step(
    "Demo scenario",
    (progress) =>
      watchProgram([PROGRAMS.admin, "seed-demo", ...files, "--endpoint", standInUrl!], environment, progress),
    () => "answered, recorded and voted on",
  );
}

/** Runs a program of ours that reports its progress; resolves with what it printed. */
function watchProgram(
  args: readonly string[],
  env: NodeJS.ProcessEnv,
  progress: (text: string) => void,
): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [...args], { env, stdio: ["ignore", "pipe", "pipe", "ipc"] });
    let printed = "";
    let errors = "";
    child.stdout?.on("data", (chunk: Buffer) => (printed += chunk.toString()));
    child.stderr?.on("data", (chunk: Buffer) => (errors += chunk.toString()));
    child.on("message", (message) => progress((message as { text: string }).text));
    child.on("close", (code) => {
      if (code === 0) resolve(printed.trim());
      else
        reject(
          new TourneyError("SETUP_FAILED", {
            message: "The demo scenario could not be prepared.",
            reason: errors.trim(),
            remedy: "Start the demo again: it continues where it stopped.",
          }),
        );
    });
  });
}

const INSTANCES = ["demo", "real"] as const;

/** Stops what runs, or says that nothing does. */
export async function stop(): Promise<void> {
  let stopped = 0;
  for (const name of INSTANCES) {
    const instance = openInstance(name);
    const lock = readLock(instance);
    if (!lock) continue;
    await step(`Stopping ${name}`, async () => {
      process.kill(lock.pid, "SIGTERM");
      for (let i = 0; i < 400 && readLock(instance); i++) await sleep(50);
    });
    stopped++;
  }
  if (stopped === 0) say("Nothing is running.");
}

/** Says what runs, and where. Ends with code 0 when something does, 3 when nothing does. */
export function status(flags: { json?: boolean }): void {
  const rows = INSTANCES.map((name) => ({ name, lock: readLock(openInstance(name)) }));
  if (flags.json)
    console.log(
      JSON.stringify(
        Object.fromEntries(
          rows.map(({ name, lock }) => [
            name,
            lock === null
              ? null
              : {
                  pid: lock.pid,
                  appUrl: lock.appUrl,
                  publicUrl: publicUrlOf(lock),
                  exhibitUrl: lock.exhibitUrl,
                  standInUrl: lock.standInUrl,
                  away: lock.away,
                },
          ]),
        ),
      ),
    );
  else {
    for (const { name, lock } of rows) {
      const where =
        lock === null
          ? "not running"
          : lock.appUrl === null
            ? `starting (process ${lock.pid})`
            : `running at ${publicUrlOf(lock)} (process ${lock.pid})${describeAway(lock)}`;
      console.log(`${name === "real" ? "start" : name}: ${where}`);
    }
  }
  if (rows.every(({ lock }) => lock === null)) process.exitCode = 3;
}

/** The instance that runs: the real one unless the demo is asked for or only the demo runs. @throws TourneyError NOT_RUNNING */
export function findRunning(verb: string, isDemo: boolean): { instance: Instance; env: NodeJS.ProcessEnv } {
  for (const name of isDemo ? (["demo"] as const) : (["real", "demo"] as const)) {
    const instance = openInstance(name);
    const lock = readLock(instance);
    if (lock?.appUrl && lock.database) return { instance, env: environmentOf(instance, lock) };
  }
  throw new TourneyError("NOT_RUNNING", {
    message: `\`tourney ${verb}\` needs a running Tourney.`,
    reason: "It works on the data of one, and none is running.",
    remedy: `Run \`./tourney ${isDemo ? "demo" : "start"}\` in another terminal first.`,
  });
}

/** Runs one of the server's own verbs on the instance that runs. */
export async function onRunning(verb: string, args: readonly string[]): Promise<void> {
  const { env } = findRunning(verb, args.includes("--demo"));
  process.exitCode = await passThrough(PROGRAMS.admin, [verb, ...args.filter((arg) => arg !== "--demo")], env);
}
