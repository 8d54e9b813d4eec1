import * as z from "zod";
import type { CdpEvent } from "../browser/cdp-pipe.js";
import type { Browser } from "../browser/launch.js";
import { guardScript, type MutedSpan, pageScript } from "../browser/page-script.js";
import { STAGE_PRELUDE } from "@tourney/core/stage";
import type { Viewport } from "@tourney/core/contract";
import type { ServePage } from "./serve-page.js";
import { PageWatch } from "./page-watch.js";

/** 2026-01-01 00:00:00 UTC: the moment at which every recording starts, in seconds. */
export const START_OF_TIME_S = 1_767_225_600;
/** The world in the page where the recorder's own code runs, out of reach of the page's. */
const WORLD = "tourney";

export interface OpenPage {
  browser: Browser;
  sessionId: string;
  watch: PageWatch;
  /** Calls back for every event of the browser until the page is closed. */
  listen: (listener: (event: CdpEvent) => void) => void;
  /** Sends a command to the page's own session. */
  send: (method: string, params?: object, limitMs?: number) => Promise<unknown>;
  /** Evaluates an expression in the recorder's own world of the entry's document, and parses what it gives. */
  probe: <T>(schema: z.ZodType<T>, expression: string, limitMs?: number) => Promise<T>;
  /** Evaluates as `probe` does, and gives what the protocol calls a remote object instead of a value. */
  hold: (expression: string) => Promise<unknown>;
  /** Loads the entry's document again. */
  reload: () => Promise<void>;
  /** Ends the page and everything in its context. @returns whether the browser did so. */
  close: () => Promise<boolean>;
}

export interface OpenOptions {
  viewport: Viewport;
  seed: number;
  serve: ServePage;
  muted: readonly MutedSpan[];
  /** Whether the browser draws only when it is told to. */
  isFrameControlled: boolean;
  /** Whether WebGL draws in frames that nobody sees. */
  drawsAll?: boolean;
  /** Whether it has a screen that can be touched. */
  hasTouch?: boolean;
  /** Runs in the page's own world before its scripts, besides what every recording puts there. */
  extraScript?: string;
}

/** A new page in a context of its own, watched from its first event on, with nothing in it yet. */
export async function openPage(browser: Browser, options: OpenOptions): Promise<OpenPage> {
  const { pipe } = browser;
  const context = z.object({ browserContextId: z.string() }).parse(await pipe.send("Target.createBrowserContext"));
  const { targetId } = z.object({ targetId: z.string() }).parse(
    await pipe.send("Target.createTarget", {
      url: "about:blank",
      ...context,
      ...options.viewport,
      ...(options.isFrameControlled ? { enableBeginFrameControl: true } : {}),
    }),
  );
  const { sessionId } = z
    .object({ sessionId: z.string() })
    .parse(await pipe.send("Target.attachToTarget", { targetId, flatten: true }));
  const watch = new PageWatch({
    pipe,
    sessionId,
    mainFrameId: targetId,
    serve: options.serve,
    meter: browser.meter,
    // Nothing more is answered: everything that waits for it ends now.
    onEnd: () => pipe.close(),
  });
  const unlisten: (() => void)[] = [];
  const listen = (listener: (event: CdpEvent) => void) => void unlisten.push(pipe.listen(listener));
  listen((event) => {
    watch.handle(event);
    if (event.method === "Target.targetCreated") closePopup(browser, event.params, { targetId, watch });
  });
  const send = (method: string, params: object = {}, limitMs?: number) => pipe.send(method, params, sessionId, limitMs);
  await Promise.all([
    pipe.send("Target.setDiscoverTargets", { discover: true }),
    ...["Page", "Runtime", "Network", "Inspector", "Log"].map((domain) => send(`${domain}.enable`)),
    send("Target.setAutoAttach", { autoAttach: true, waitForDebuggerOnStart: false, flatten: true }),
    addScripts(send, options),
    send("Network.setUserAgentOverride", { userAgent: await readUserAgent(browser) }),
    send("Emulation.setFocusEmulationEnabled", { enabled: true }),
    ...(options.hasTouch === true
      ? [send("Emulation.setTouchEmulationEnabled", { enabled: true, maxTouchPoints: 1 })]
      : []),
    send("Page.setInterceptFileChooserDialog", { enabled: true }),
    send("Fetch.enable", { patterns: [{ urlPattern: "*" }] }),
    pipe.send("Browser.setDownloadBehavior", { behavior: "deny", eventsEnabled: true, ...context }),
  ]);
  const world = createWorld(send, watch);
  const probe = createProbe(send, world);
  const reload = async () => {
    await probe(z.unknown(), "location.reload(), 0");
  };
  const hold = async (expression: string) =>
    send("Runtime.evaluate", { expression, contextId: await world(), objectGroup: "tourney" });
  const close = async () => {
    for (const stop of unlisten) stop();
    const closed = pipe.send("Target.disposeBrowserContext", context).then(
      () => true,
      () => false,
    );
    return closed;
  };
  return { browser, sessionId, watch, listen, send, probe, hold, reload, close };
}

async function addScripts(
  send: OpenPage["send"],
  { seed, muted, extraScript, isFrameControlled, drawsAll = true }: OpenOptions,
): Promise<void> {
  const source = `${STAGE_PRELUDE}\n${pageScript(seed, { isVirtual: isFrameControlled, drawsAll })}\n${extraScript ?? ""}`;
  await send("Page.addScriptToEvaluateOnNewDocument", { source });
  await send("Page.addScriptToEvaluateOnNewDocument", {
    source: guardScript(muted, START_OF_TIME_S * 1000),
    worldName: WORLD,
  });
}

/** What a voter's browser says of itself: the headless one's own words would tell a page that nobody is looking. */
async function readUserAgent({ pipe }: Browser): Promise<string> {
  const { userAgent } = z.object({ userAgent: z.string() }).parse(await pipe.send("Browser.getVersion"));
  return userAgent.replace("Headless", "");
}

function closePopup(
  { pipe }: Browser,
  params: unknown,
  { targetId: ownTargetId, watch }: { targetId: string; watch: PageWatch },
): void {
  const created = z
    .object({ targetInfo: z.object({ targetId: z.string(), type: z.string(), url: z.string() }) })
    .safeParse(params);
  if (!created.success) return;
  const { targetId, type, url } = created.data.targetInfo;
  // The full browser opens a window of its own.
  if (type !== "page" || targetId === ownTargetId || url.startsWith("chrome:")) return;
  watch.addPopup(url);
  pipe.send("Target.closeTarget", { targetId }).catch(() => undefined);
}

const Evaluated = z.object({
  result: z.object({ value: z.unknown().optional() }),
  exceptionDetails: z
    .object({ text: z.string(), exception: z.looseObject({ description: z.string().optional() }).optional() })
    .optional(),
});

/** The recorder's own world in the entry's document: made once for each document. */
function createWorld(send: OpenPage["send"], watch: PageWatch): () => Promise<number> {
  let world: { document: number; contextId: number } | null = null;
  return async () => {
    const { stageFrameId: frameId, documents } = watch;
    if (frameId === null) throw new ProbeFailed("the entry's document has not begun");
    // A page that was loaded again has another world.
    if (world?.document !== documents) {
      const { executionContextId } = z
        .object({ executionContextId: z.int() })
        .parse(await send("Page.createIsolatedWorld", { frameId, worldName: WORLD }));
      world = { document: documents, contextId: executionContextId };
    }
    return world.contextId;
  };
}

const createProbe =
  (send: OpenPage["send"], world: () => Promise<number>): OpenPage["probe"] =>
  async (schema, expression, limitMs) => {
    const evaluated = await send(
      "Runtime.evaluate",
      { expression, contextId: await world(), returnByValue: true, awaitPromise: true },
      limitMs,
    );
    const { result, exceptionDetails } = Evaluated.parse(evaluated);
    if (exceptionDetails) throw new ProbeFailed(exceptionDetails.exception?.description ?? exceptionDetails.text);
    const parsed = schema.safeParse(result.value);
    if (!parsed.success) throw new ProbeFailed(`unexpected answer: ${parsed.error.message}`);
    return parsed.data;
  };

/** The recorder's own look at a page did not work; the recording goes on without it. */
export class ProbeFailed extends Error {
  override readonly name = "ProbeFailed";
}
