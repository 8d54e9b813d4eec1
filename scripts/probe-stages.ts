import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Readable, Writable } from "node:stream";
import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { CdpPipe } from "../packages/render-worker/src/browser/cdp-pipe.js";
import { readChord } from "@tourney/core/contract";
import { listKeyEvents } from "../packages/render-worker/src/browser/keys.js";
import { Patience } from "../packages/render-worker/src/browser/patience.js";
import { createGroupMeter } from "../packages/render-worker/src/browser/process-group.js";
import { ODD_PAGES, type OddPage } from "../packages/render-worker/test-support/hostile-pages.js";
import { openScene } from "./booth-scene.js";

/**
 * Puts every odd and hostile page that the recorder is tried with into a real bout in a real browser, beside a plain one, and prints one JSON
 * line: how many of them opened a window or a dialog, loaded a file down, led the booth away, sent a request to a host beyond the booth
 * and its stages, kept a notch from being chosen for a second, or, being honest, did not work. Each is named. All other hosts are
 * one that takes down whatever reaches it.
 *
 * The browser is driven without looking into the stages: a driver that follows what a page logs is kept busy by one that logs without
 * end, and what it measures then is itself.
 *
 * `--only TEXT` tries the pages whose name has it.
 */
const at = process.argv.indexOf("--only");
const only = at === -1 ? "" : process.argv[at + 1]!;
const pages = ODD_PAGES.filter(({ page, name }) => typeof page === "string" && name.includes(only));
const PLAIN = "<!doctype html><html lang='en'><title>Plain</title><h1>Plain</h1></html>";
/** The voter looks at a bout for so long. */
const LOOK_MS = 2500;
/** A driver's command is answered within this time, or the browser itself hangs. */
const COMMAND_MS = 60_000;

const EventOf = z.object({ result: z.looseObject({ value: z.unknown().optional() }) });
const Targets = z.object({
  targetInfos: z.array(z.looseObject({ targetId: z.string(), type: z.string(), url: z.string() })),
});

/** A browser in which the booth's own page is followed, and its stages are not. */
class Booth {
  private constructor(
    private readonly pipe: CdpPipe,
    private readonly sessionId: string,
    private readonly child: ChildProcess,
    private readonly profile: string,
  ) {}

  /** @param note is told of whatever leaves the booth. */
  static async open(outsidePort: number, note: (what: string) => void): Promise<Booth> {
    const profile = mkdtempSync(join(tmpdir(), "tourney-probe-"));
    const child = spawn(
      "/usr/bin/chromium",
      [
        "--headless=new",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--no-first-run",
        "--remote-debugging-pipe",
        `--user-data-dir=${profile}`,
        "--window-size=1280,900",
        // The browser asks for its own updates whatever it is told; no page here asks that host.
        `--host-resolver-rules=MAP * 127.0.0.1:${outsidePort}, EXCLUDE localhost, EXCLUDE *.localhost, EXCLUDE update.googleapis.com`,
        ...(process.getuid?.() === 0 ? ["--no-sandbox"] : []),
        "about:blank",
      ],
      { stdio: ["ignore", "ignore", "ignore", "pipe", "pipe"] },
    );
    const patience = new Patience(createGroupMeter(child.pid ?? -1).measureCpuMs);
    const pipe = new CdpPipe(child.stdio[3] as Writable, child.stdio[4] as Readable, patience, COMMAND_MS);
    const targetId = await findPage(pipe);
    const attached = await pipe.send("Target.attachToTarget", { targetId, flatten: true });
    const { sessionId } = z.object({ sessionId: z.string() }).parse(attached);
    pipe.listen(({ method, params, sessionId: from }) => {
      const said = JSON.stringify(params);
      const isOther = !said.includes(targetId);
      if (method === "Target.targetCreated" && /"type":"page"/.test(said) && isOther) note("opened a window");
      if (method === "Browser.downloadWillBegin") note("loaded a file down");
      if (from !== sessionId) return;
      if (method === "Page.javascriptDialogOpening") {
        note("opened a dialog");
        void pipe.send("Page.handleJavaScriptDialog", { accept: false }, sessionId).catch(() => undefined);
      }
      if (method === "Page.frameNavigated" && !/"parentId"/.test(said) && !/\/vote\//.test(said))
        note("led the booth away");
      if (method === "Inspector.targetCrashed") note("took the booth's own process with it");
    });
    await pipe.send("Target.setDiscoverTargets", { discover: true });
    await pipe.send("Browser.setDownloadBehavior", { behavior: "deny", eventsEnabled: true });
    await pipe.send("Page.enable", {}, sessionId);
    return new Booth(pipe, sessionId, child, profile);
  }

  /** The value of an expression in the booth's own page; a promise is waited for. */
  async read<T>(schema: z.ZodType<T>, expression: string, sessionId = this.sessionId): Promise<T> {
    const params = { expression, awaitPromise: true, returnByValue: true };
    return schema.parse(EventOf.parse(await this.pipe.send("Runtime.evaluate", params, sessionId)).result.value);
  }

  async waitFor(expression: string, timeoutMs: number): Promise<void> {
    for (const startedAt = Date.now(); !(await this.read(z.boolean(), expression));) {
      if (Date.now() - startedAt > timeoutMs) throw new Error(`In vain: ${expression}`);
      await sleep(50);
    }
  }

  async go(url: string): Promise<void> {
    await this.pipe.send("Page.navigate", { url }, this.sessionId);
  }

  async press(name: string): Promise<void> {
    const { down, up } = listKeyEvents(readChord(name)!);
    for (const event of [...down, ...up]) await this.pipe.send("Input.dispatchKeyEvent", event, this.sessionId);
  }

  /** Whether one of the stages says that all it needs is there. Looks into them, afterwards. */
  async saysItWorks(): Promise<boolean> {
    const { targetInfos } = Targets.parse(await this.pipe.send("Target.getTargets"));
    for (const { targetId, type } of targetInfos) {
      if (type !== "iframe") continue;
      const attached = await this.pipe.send("Target.attachToTarget", { targetId, flatten: true });
      const { sessionId } = z.object({ sessionId: z.string() }).parse(attached);
      const text = "document.querySelector('#said')?.textContent ?? ''";
      const said = await this.read(z.string(), text, sessionId).catch(() => "");
      await this.pipe.send("Target.detachFromTarget", { sessionId }).catch(() => undefined);
      if (said === "worked") return true;
    }
    return false;
  }

  async close(): Promise<void> {
    const isOver = once(this.child, "exit");
    this.child.kill("SIGKILL");
    await isOver;
    await removeOnceStill(this.profile);
  }
}

/** Removes a browser's profile: its children end a moment later than it, and write there until then. */
async function removeOnceStill(folder: string): Promise<void> {
  const until = Date.now() + 10_000;
  for (;;) {
    try {
      rmSync(folder, { recursive: true, force: true });
      return;
    } catch (error) {
      if (Date.now() > until) throw error;
      await sleep(200);
    }
  }
}

async function findPage(pipe: CdpPipe): Promise<string> {
  for (;;) {
    const { targetInfos } = Targets.parse(await pipe.send("Target.getTargets"));
    const page = targetInfos.find(({ type }) => type === "page");
    if (page) return page.targetId;
    await sleep(100);
  }
}

const MAIN = `document.querySelector("main:not([inert])")`;
const press = (name: string) =>
  `[...document.querySelectorAll("button")].find((button) => button.textContent.includes(${JSON.stringify(name)}))?.click()`;

/** How long a notch takes to be chosen by its key, in the driver's time, so that what holds up the whole browser counts too. */
async function timeNotch(booth: Booth, key: string, place: number): Promise<number> {
  const startedAt = performance.now();
  await booth.press(key);
  await booth.waitFor(`${MAIN}.querySelectorAll("input[type=radio]")[${place}].checked`, COMMAND_MS);
  return performance.now() - startedAt;
}

interface Tried {
  findings: { page: string; what: string }[];
  slowestNotchMs: number;
  recordings: string[];
}

async function tryAll(booth: Booth, tried: Tried, onBout: (page: OddPage) => void): Promise<void> {
  for (let done = 0; done < pages.length; done++) {
    await booth.waitFor(`${MAIN}?.innerText.includes("${done} of ${pages.length}") === true`, 15_000);
    const title = await booth.read(z.string(), `${MAIN}.querySelector("h1").textContent`);
    const page = pages[Number(title.slice(1))]!;
    onBout(page);
    const note = (what: string) => tried.findings.push({ page: page.name, what });
    await booth.waitFor(`!${MAIN}.innerText.includes("Getting both ready")`, 30_000);
    if (await booth.read(z.boolean(), `${MAIN}.innerText.includes("shown as a recording")`))
      tried.recordings.push(page.name);
    await sleep(LOOK_MS);
    for (const [key, place] of [
      ["1", 0],
      ["4", 3],
    ] as const) {
      const tookMs = await timeNotch(booth, key, place);
      tried.slowestNotchMs = Math.round(Math.max(tried.slowestNotchMs, tookMs));
      if (tookMs > 1000) note(`kept a notch waiting for ${Math.round(tookMs)} ms`);
    }
    const isHonest = page.isHonest === true && String(page.page).includes('id="said"');
    if (isHonest && !(await booth.saysItWorks())) note("is honest and did not work");
    await booth.press("Enter");
  }
}

/** Stands for all hosts that are not the booth's. */
function standOutside(note: (what: string) => void): Promise<Server> {
  const server = createServer((request, response) => {
    note(`sent a request to ${request.headers.host ?? "?"}`);
    response.end();
  });
  return new Promise((resolve) => server.listen(0, "127.0.0.1", () => resolve(server)));
}

const scene = await openScene({
  name: "probe-stages",
  prompts: pages.length,
  entrants: 2,
  quota: pages.length,
  answer: (promptKey, entrant) => (entrant === 0 ? String(pages[Number(promptKey.slice(1))]!.page) : PLAIN),
});
const tried: Tried = { findings: [], slowestNotchMs: 0, recordings: [] };
let current: OddPage | null = null;
const note = (what: string) => {
  if (current) tried.findings.push({ page: current.name, what });
};
const outside = await standOutside(note);
const booth = await Booth.open((outside.address() as AddressInfo).port, note);
try {
  await booth.go(scene.panelUrl);
  await booth.waitFor(`document.body?.innerText.includes("Begin") === true`, 15_000);
  await booth.read(z.unknown(), press("Begin"));
  await booth.waitFor(`document.body.innerText.includes("Start voting")`, 15_000);
  await booth.read(z.unknown(), press("Start voting"));
  await tryAll(booth, tried, (page) => (current = page));
  await sleep(1000);
  const { rows } = await scene.pool.query<{ n: number }>("SELECT count(*)::int AS n FROM ballots");
  await scene.pool.end();
  console.log(JSON.stringify({ pages: pages.length, ballots: rows[0]!.n, ...tried }));
} finally {
  await booth.close();
  outside.close();
  scene.server.removeAllListeners("exit");
  scene.server.kill();
  await scene.end();
}
process.exit();
