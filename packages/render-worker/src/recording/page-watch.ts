import { setTimeout as sleep } from "node:timers/promises";
import type { BlockedRequest, LogLine } from "@tourney/core/contract";
import * as z from "zod";
import type { CdpEvent, CdpPipe } from "../browser/cdp-pipe.js";

/** The files of an entry by their path, as served to the page. */
export type FileMap = ReadonlyMap<string, Buffer>;

/** The host that an entry is served under while it is recorded. The name is reserved and never resolves (RFC 2606). */
export const ENTRY_ORIGIN = "http://entry.invalid";

const MOST_LOG_LINES = 200;
const LONGEST_LOG_TEXT = 2000;
const MOST_BLOCKED = 100;

const MIME: Record<string, string> = {
  html: "text/html; charset=utf-8",
  htm: "text/html; charset=utf-8",
  svg: "image/svg+xml",
  css: "text/css; charset=utf-8",
  js: "text/javascript; charset=utf-8",
  mjs: "text/javascript; charset=utf-8",
  json: "application/json",
  txt: "text/plain; charset=utf-8",
};

const mimeTypeOf = (path: string): string =>
  MIME[path.slice(path.lastIndexOf(".") + 1).toLowerCase()] ?? "application/octet-stream";

const Paused = z.object({
  requestId: z.string(),
  networkId: z.string().optional(),
  request: z.object({ url: z.string() }),
  resourceType: z.string().catch("Other"),
});
const ConsoleCall = z.object({
  type: z.string(),
  args: z.array(z.looseObject({ value: z.unknown().optional(), description: z.string().optional(), type: z.string() })),
  stackTrace: z.object({ callFrames: z.array(z.object({ url: z.string(), lineNumber: z.int() })) }).optional(),
});
const Thrown = z.object({
  exceptionDetails: z.object({
    text: z.string(),
    lineNumber: z.int(),
    url: z.string().optional(),
    exception: z.looseObject({ description: z.string().optional(), value: z.unknown().optional() }).optional(),
  }),
});
const FrameNavigated = z.object({ frame: z.object({ parentId: z.string().optional(), url: z.string() }) });

const LoadEnded = z.object({ requestId: z.string() });
/** How long the page may take to notice that a request was answered before time goes on without it. */
const NOTICE_LIMIT_MS = 80;

/** What a page did while it was recorded, gathered from the protocol's events. */
export class PageWatch {
  readonly log: LogLine[] = [];
  readonly blocked: BlockedRequest[] = [];
  /** Where the main frame went after its first document, or null. */
  navigatedTo: string | null = null;
  crashed = false;
  /** Page time, set by the recorder before each grant. */
  nowMs = 0;
  private loads = 0;
  private readonly held: z.infer<typeof Paused>[] = [];
  private readonly unnoticed = new Map<string, () => void>();

  constructor(
    private readonly pipe: CdpPipe,
    private readonly sessionId: string,
    private readonly files: FileMap,
  ) {}

  handle(event: CdpEvent): void {
    if (event.method === "Target.targetCrashed" || event.method === "Inspector.targetCrashed") this.crashed = true;
    if (event.sessionId !== this.sessionId) return;
    switch (event.method) {
      case "Fetch.requestPaused":
        return this.receiveRequest(Paused.parse(event.params));
      case "Network.loadingFinished":
      case "Network.loadingFailed":
        return this.unnoticed.get(LoadEnded.parse(event.params).requestId)?.();
      case "Runtime.consoleAPICalled":
        return this.addConsole(ConsoleCall.parse(event.params));
      case "Runtime.exceptionThrown":
        return this.addException(Thrown.parse(event.params));
      case "Page.javascriptDialogOpening":
        return this.tell("Page.handleJavaScriptDialog", { accept: false });
      case "Page.frameNavigated": {
        const { frame } = FrameNavigated.parse(event.params);
        if (frame.parentId === undefined && frame.url !== "about:blank" && ++this.loads > 1)
          this.navigatedTo ??= frame.url;
        return;
      }
    }
  }

  /** Sends a command whose failure shows elsewhere: the page may be gone by the time it arrives. */
  private tell(method: string, params: object): void {
    this.pipe.send(method, params, this.sessionId).catch(() => undefined);
  }

  /**
   * The document is served at once, since nothing goes on before it. All else is held until time stands still between two
   * frames: answered while time runs, it would arrive at another page time in every recording.
   */
  private receiveRequest(paused: z.infer<typeof Paused>): void {
    if (paused.resourceType === "Document") this.answer(paused);
    else this.held.push(paused);
  }

  /** Answers what was asked since the last frame, and waits (not for ever) until the page has noticed. */
  async answerHeld(): Promise<void> {
    const batch = this.held.splice(0);
    const noticed = batch.flatMap(({ networkId }) =>
      networkId === undefined ? [] : [new Promise<void>((resolve) => this.unnoticed.set(networkId, resolve))],
    );
    for (const paused of batch) this.answer(paused);
    if (noticed.length > 0) await Promise.race([Promise.all(noticed), sleep(NOTICE_LIMIT_MS)]);
    this.unnoticed.clear();
  }

  private answer({ requestId, request, resourceType }: z.infer<typeof Paused>): void {
    const url = URL.parse(request.url);
    const path = url?.origin === ENTRY_ORIGIN ? decodePath(url.pathname) : null;
    const body = path === null ? undefined : this.files.get(path);
    if (path !== null && body) {
      const responseHeaders = [{ name: "Content-Type", value: mimeTypeOf(path) }];
      return this.tell("Fetch.fulfillRequest", {
        requestId,
        responseCode: 200,
        responseHeaders,
        body: body.toString("base64"),
      });
    }
    if (path === "favicon.ico") return this.tell("Fetch.fulfillRequest", { requestId, responseCode: 404 });
    if (this.blocked.length < MOST_BLOCKED) this.blocked.push({ url: request.url.slice(0, 1000), type: resourceType });
    this.tell("Fetch.failRequest", { requestId, errorReason: "BlockedByClient" });
  }

  private addConsole({ type, args, stackTrace }: z.infer<typeof ConsoleCall>): void {
    const text = args.map((arg) =>
      typeof arg.value === "string"
        ? arg.value
        : (arg.description ?? (arg.value === undefined ? arg.type : JSON.stringify(arg.value))),
    );
    const top = stackTrace?.callFrames[0];
    this.add({
      level:
        type === "error" || type === "assert"
          ? "error"
          : type === "warning"
            ? "warning"
            : type === "debug"
              ? "debug"
              : "info",
      text: text.join(" "),
      source: "console",
      where: top ? describePlace(top.url, top.lineNumber) : null,
    });
  }

  private addException({ exceptionDetails: details }: z.infer<typeof Thrown>): void {
    const thrown = details.exception;
    this.add({
      level: "error",
      text:
        thrown?.description ??
        (thrown?.value === undefined ? details.text : `${details.text} ${JSON.stringify(thrown.value)}`),
      source: "exception",
      where: details.url ? describePlace(details.url, details.lineNumber) : null,
    });
  }

  /** A line of the recorder's own among the page's: what of a walkthrough could not be done. */
  note(text: string): void {
    this.add({ level: "warning", text, source: "console", where: null });
  }

  private add(line: Omit<LogLine, "atMs">): void {
    if (this.log.length < MOST_LOG_LINES)
      this.log.push({ ...line, text: line.text.slice(0, LONGEST_LOG_TEXT), atMs: this.nowMs });
  }
}

function decodePath(pathname: string): string {
  try {
    return decodeURIComponent(pathname.slice(1));
  } catch {
    // A malformed escape names no file.
    return pathname.slice(1);
  }
}

const describePlace = (url: string, lineNumber: number) => `${url.replace(`${ENTRY_ORIGIN}/`, "")}:${lineNumber + 1}`;
