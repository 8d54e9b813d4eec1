import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { chownSync, existsSync, mkdtempSync } from "node:fs";
import { rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Readable, Writable } from "node:stream";
import type { Isolation, Recording } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { CdpPipe } from "./cdp-pipe.js";
import { limitMemory } from "./memory-limit.js";
import { Patience } from "./patience.js";
import { createGroupMeter, type GroupMeter } from "./process-group.js";

/** Where Debian puts the headless shell: the binary itself, since its wrapper script would keep the pipe from it. */
const HEADLESS_SHELL = "/usr/lib/chromium/chromium-headless-shell";
/** The full browser, which has no begin-frames: the fallback. */
const FULL_BROWSER = "/usr/lib/chromium/chromium";
/** The user and group `nobody`: owns nothing. */
const NOBODY = 65534;
/**
 * Reserved memory of each process of the browser: an idle renderer's reservations are about 4 GB (3 GB crashes it at
 * start). What is really used is held by the limit on the whole browser.
 */
const PROCESS_DATA_BYTES = 6_000_000_000;
/** Processor time in which the browser answers any command. */
const COMMAND_LIMIT_MS = 15_000;

const FLAGS = [
  "--remote-debugging-pipe",
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--hide-scrollbars",
  "--mute-audio",
  // A page is not to tell by this that nobody is looking.
  "--disable-blink-features=AutomationControlled",
  // Frames of other origins stay in the page's process, under its clock and its watch: the whole browser is one page's own.
  "--disable-site-isolation-trials",
  // What is read and compiled on other threads comes at another moment each time.
  "--disable-features=IsolateOrigins,site-per-process,IsolateSandboxedIframes,ScriptStreaming,ThreadedPreloadScanner,ThreadedBodyLoader,PrecompileInlineScripts,BackgroundResourceFetch",
  // One process less to start: this service has no sandbox of its own on Linux, and nothing to reach.
  "--enable-features=NetworkServiceInProcess2",
  "--force-color-profile=srgb",
  "--font-render-hinting=none",
  "--disable-threaded-animation",
  "--disable-threaded-scrolling",
  "--disable-checker-imaging",
  "--disable-image-animation-resync",
  // What holds the network shut even where no namespace can be made.
  "--host-resolver-rules=MAP * ~NOTFOUND",
  "--proxy-server=http://127.0.0.1:9",
  "--proxy-bypass-list=<-loopback>",
  "--force-webrtc-ip-handling-policy=disable_non_proxied_udp",
  "--js-flags=--max-old-space-size=256",
];

/** The explicit begin-frames that make two recordings agree. */
const FRAME_CONTROL = [
  "--deterministic-mode",
  "--enable-begin-frame-control",
  "--run-all-compositor-stages-before-draw",
  "--disable-new-content-rendering-timeout",
];

/** A browser that is there, and the clock that a recording in it can have. */
export interface BrowserChoice {
  path: string;
  clock: Recording["clock"];
  /** Draws on the machine's own clock: for measuring how fast it can. */
  isRealTime?: boolean;
}

export interface Browser {
  pipe: CdpPipe;
  isolation: Isolation;
  /** Whether its processes were killed because they used too much memory. */
  wasOverMemory: () => boolean;
  /** Whether a script engine in it gave up for want of memory. */
  saidOutOfMemory: () => boolean;
  /** What its processes do with the processors. */
  meter: GroupMeter;
  patience: Patience;
  /** From now on, what it prints on its error output is told to another. */
  tellErrorsTo: (errors: (line: string) => void) => void;
  /** Ends every process of the browser and removes its profile. Safe to call twice. */
  end: () => Promise<void>;
}

/**
 * The browser to record in: the configured one, else the headless shell, else the full browser.
 * @throws TourneyError BROWSER_MISSING
 */
export function findBrowser(configured: string | undefined): BrowserChoice {
  const path = configured ?? [HEADLESS_SHELL, FULL_BROWSER].find(existsSync) ?? HEADLESS_SHELL;
  if (existsSync(path)) return { path, clock: path.endsWith("headless-shell") ? "begin-frame" : "injected" };
  throw new TourneyError("BROWSER_MISSING", {
    message: `The browser ${path} is missing.`,
    reason: "Outputs are recorded in Debian's chromium-headless-shell; nothing can be recorded without it.",
    remedy:
      "Run `apt-get install chromium-headless-shell chromium-sandbox`, or set TOURNEY_BROWSER to its path. Then record again; answers and entries are kept.",
  });
}

function works(command: string, args: readonly string[]): boolean {
  return spawnSync(command, [...args], { stdio: "ignore", timeout: 5000 }).status === 0;
}

/** What the script engine prints when its heap is full. */
const OUT_OF_MEMORY = /javascript OOM|out of memory|Reached heap limit/i;

type Wrapping = { prefix: string[]; isolation: Omit<Isolation, "memory"> };
let wrapping: Wrapping | null = null;

/** The commands that contain the browser here, tried out once: an empty network namespace and an unprivileged user. */
function chooseWrapping(): Wrapping {
  if (wrapping) return wrapping;
  const isRoot = process.getuid?.() === 0;
  const limit = ["prlimit", `--data=${PROCESS_DATA_BYTES}`, "--core=0", "--"];
  if (isRoot) {
    const networkNamespace = works("unshare", ["-n", "true"]);
    const drop = ["setpriv", `--reuid=${NOBODY}`, `--regid=${NOBODY}`, "--clear-groups", "--"];
    wrapping = {
      prefix: [...(networkNamespace ? ["unshare", "-n", "--"] : []), ...limit, ...drop],
      isolation: { sandbox: true, unprivilegedUser: true, networkNamespace },
    };
  } else {
    const networkNamespace = works("unshare", ["-c", "-n", "true"]);
    wrapping = {
      prefix: [...(networkNamespace ? ["unshare", "-c", "-n", "--"] : []), ...limit],
      isolation: { sandbox: true, unprivilegedUser: true, networkNamespace },
    };
  }
  return wrapping;
}

/**
 * Starts one headless browser: own profile, own process group, no environment but a path and a home,
 * Chromium's sandbox on, an unprivileged user, and an empty network namespace where one can be made.
 */
export function launchBrowser({
  browser: { path, clock, isRealTime = false },
  errors,
}: {
  browser: BrowserChoice;
  errors: (line: string) => void;
}): Browser {
  const home = mkdtempSync(join(tmpdir(), "tourney-browser-"));
  if (process.getuid?.() === 0) chownSync(home, NOBODY, NOBODY);
  const { prefix, isolation } = chooseWrapping();
  const memory = limitMemory();
  const [command, ...args] = [
    ...memory.prefix,
    ...prefix,
    path,
    ...FLAGS,
    ...(clock === "begin-frame" && !isRealTime ? FRAME_CONTROL : []),
    ...(clock === "injected" ? ["--headless=new"] : []),
    `--user-data-dir=${join(home, "profile")}`,
  ];
  const child = spawn(command, args, {
    stdio: ["ignore", "ignore", "pipe", "pipe", "pipe"],
    detached: true,
    cwd: home,
    env: { PATH: "/usr/bin:/bin", HOME: home, TMPDIR: home, LANG: "C.UTF-8" },
  });
  let tell = errors;
  child.on("error", (error) => tell(error.message));
  if (child.pid !== undefined) memory.watch(child.pid);
  const meter = createGroupMeter(child.pid ?? -1);
  const patience = new Patience(meter.measureCpuMs);
  const pipe = new CdpPipe(child.stdio[3] as Writable, child.stdio[4] as Readable, patience, COMMAND_LIMIT_MS);
  let keptBytes = 0;
  let isOutOfMemory = false;
  child.stderr?.on("data", (chunk: Buffer) => {
    const text = chunk.toString("utf8");
    if (!isOutOfMemory && OUT_OF_MEMORY.test(text)) {
      isOutOfMemory = true;
      // It takes the browser many seconds to say that its page has died of it.
      pipe.close();
    }
    keptBytes += chunk.length;
    if (keptBytes < 20_000) tell(text.trimEnd());
  });
  return {
    pipe,
    isolation: { ...isolation, memory: memory.kind },
    wasOverMemory: memory.wasHit,
    saidOutOfMemory: () => isOutOfMemory,
    meter,
    patience,
    tellErrorsTo(next) {
      tell = next;
      keptBytes = 0;
    },
    end: async () => {
      await endBrowser(child, pipe, home);
      memory.end();
    },
  };
}

async function endBrowser(child: ChildProcess, pipe: CdpPipe, home: string): Promise<void> {
  pipe.close();
  if (child.pid !== undefined && child.exitCode === null && child.signalCode === null) {
    const gone = new Promise((resolve) => child.once("exit", resolve));
    try {
      process.kill(-child.pid, "SIGKILL");
    } catch (error) {
      // The group has ended by itself between the check and the signal.
      if ((error as NodeJS.ErrnoException).code !== "ESRCH") throw error;
    }
    await gone;
  }
  // Its last processes may still be writing their profile while they die.
  await rm(home, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
}
