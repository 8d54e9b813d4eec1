import { setTimeout as sleep } from "node:timers/promises";
import type { BlockedRequest, LogLine, Substitution } from "@tourney/core/contract";
import * as z from "zod";
import type { CdpEvent, CdpPipe } from "../browser/cdp-pipe.js";
import type { Served, ServePage } from "./serve-page.js";

const MOST_LOG_LINES = 200;
const LONGEST_LOG_TEXT = 2000;
const MOST_BLOCKED = 100;
/** A page that talks more than this is not listened to any longer, or its talk would fill the pipe. */
const MOST_EVENTS = 1000;
/** A page that opens this many dialogs or popups opens them without end. */
const MOST_DIALOGS = 50;
const MOST_POPUPS = 50;

const Paused = z.object({
  requestId: z.string(),
  networkId: z.string().optional(),
  frameId: z.string(),
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
const FrameNavigated = z.object({
  frame: z.object({
    id: z.string(),
    parentId: z.string().optional(),
    url: z.string(),
    unreachableUrl: z.string().optional(),
  }),
});
const Dialog = z.object({ type: z.string(), message: z.string() });
const BrowserEntry = z.object({
  entry: z.object({
    source: z.string(),
    level: z.string(),
    text: z.string(),
    url: z.string().optional(),
    lineNumber: z.int().optional(),
  }),
});
const Download = z.object({ suggestedFilename: z.string() });
const Crashed = z.object({ status: z.string().optional() });
const Attached = z.object({ sessionId: z.string(), targetInfo: z.object({ type: z.string() }) });
const LoadEnded = z.object({ requestId: z.string() });

/** How long the page may take to notice that a request was answered before time goes on without it. */
const NOTICE_LIMIT_MS = 1000;

/** What must be seen to even when the clip is over, so that the page is not left waiting. */
const AFTERWARDS = new Set(["Fetch.requestPaused", "Page.javascriptDialogOpening"]);

export interface WatchOptions {
  pipe: CdpPipe;
  sessionId: string;
  mainFrameId: string;
  serve: ServePage;
  /** Called once, when nothing more is to be had from the page. */
  onEnd: () => void;
}

/** What a page did while it was recorded, gathered from the protocol's events. */
export class PageWatch {
  readonly log: LogLine[] = [];
  readonly blocked: BlockedRequest[] = [];
  readonly missing: string[] = [];
  readonly substitutions: Substitution[] = [];
  readonly dialogs: { type: string; message: string; atMs: number }[] = [];
  readonly popups: { url: string; atMs: number }[] = [];
  readonly downloads: string[] = [];
  readonly workers = new Set<string>();
  /** The frame that the entry is in, once its document has begun. */
  stageFrameId: string | null = null;
  /** Where the entry went after its first document, or null. */
  navigatedTo: string | null = null;
  /** What it did without end, or null. */
  flooded: "dialogs" | "popups" | null = null;
  crashed = false;
  crashedForMemory = false;
  /** Page time, set by the recorder before each grant. */
  nowMs = 0;
  servedBytes = 0;
  /** Whether requests wait for the next frame. */
  holdsRequests = false;
  /** Set when the clip is over: what the page does while it is looked at closely is not part of it. */
  isOver = false;
  private events = 0;
  private readonly held: z.infer<typeof Paused>[] = [];
  private readonly unnoticed = new Map<string, () => void>();

  constructor(private readonly options: WatchOptions) {}

  handle(event: CdpEvent): void {
    if (event.method === "Target.targetCrashed" || event.method === "Inspector.targetCrashed") {
      this.crashed = true;
      if (Crashed.safeParse(event.params).data?.status === "oom") this.crashedForMemory = true;
      this.options.onEnd();
      return;
    }
    if (this.isOver && !AFTERWARDS.has(event.method)) return;
    if (event.method === "Browser.downloadWillBegin") {
      const { suggestedFilename } = Download.parse(event.params);
      if (this.downloads.length < MOST_POPUPS) this.downloads.push(suggestedFilename.slice(0, 200));
      return;
    }
    if (event.sessionId !== undefined && this.workers.has(event.sessionId)) return this.handleTalk(event);
    if (event.sessionId !== this.options.sessionId) return;
    switch (event.method) {
      case "Fetch.requestPaused":
        return this.receiveRequest(Paused.parse(event.params));
      case "Network.loadingFinished":
      case "Network.loadingFailed":
        return this.unnoticed.get(LoadEnded.parse(event.params).requestId)?.();
      case "Page.javascriptDialogOpening":
        return this.receiveDialog(Dialog.parse(event.params));
      case "Page.frameNavigated":
        return this.receiveNavigation(FrameNavigated.parse(event.params).frame);
      case "Target.attachedToTarget": {
        const { sessionId, targetInfo } = Attached.parse(event.params);
        if (!targetInfo.type.includes("worker")) return;
        this.workers.add(sessionId);
        this.options.pipe.send("Runtime.enable", {}, sessionId).catch(() => undefined);
        return;
      }
      default:
        return this.handleTalk(event);
    }
  }

  private handleTalk(event: CdpEvent): void {
    switch (event.method) {
      case "Runtime.consoleAPICalled":
        this.countEvent();
        return this.addConsole(ConsoleCall.parse(event.params));
      case "Runtime.exceptionThrown":
        this.countEvent();
        return this.addException(Thrown.parse(event.params));
      case "Log.entryAdded":
        this.countEvent();
        return this.addBrowserEntry(BrowserEntry.parse(event.params).entry);
    }
  }

  private countEvent(): void {
    if (++this.events === MOST_EVENTS) for (const domain of ["Runtime", "Log"]) this.tell(`${domain}.disable`, {});
  }

  /** A window that the page opened, which was closed at once. */
  addPopup(url: string): void {
    this.popups.push({ url: url.slice(0, 500), atMs: this.nowMs });
    if (this.popups.length >= MOST_POPUPS) this.flood("popups");
  }

  private receiveDialog({ type, message }: z.infer<typeof Dialog>): void {
    if (!this.isOver) this.dialogs.push({ type, message: message.slice(0, 200), atMs: this.nowMs });
    if (this.dialogs.length >= MOST_DIALOGS) return this.flood("dialogs");
    this.tell("Page.handleJavaScriptDialog", { accept: false });
  }

  private flood(what: NonNullable<PageWatch["flooded"]>): void {
    this.flooded ??= what;
    this.options.onEnd();
  }

  private receiveNavigation(frame: z.infer<typeof FrameNavigated>["frame"]): void {
    if (frame.parentId === undefined) return;
    if (this.stageFrameId === null && frame.parentId === this.options.mainFrameId) {
      this.stageFrameId = frame.id;
      return;
    }
    if (frame.id === this.stageFrameId) this.leave(frame.unreachableUrl ?? frame.url);
  }

  private leave(url: string): void {
    this.navigatedTo ??= url;
  }

  /** Sends a command whose failure shows elsewhere: the page may be gone by the time it arrives. */
  private tell(method: string, params: object): void {
    this.options.pipe.send(method, params, this.options.sessionId).catch(() => undefined);
  }

  /**
   * While the page begins, time waits for what is asked, which is answered at once. Later all but documents is held until time
   * stands still between two frames: answered while it runs, it would arrive at another page time in every recording.
   */
  private receiveRequest(paused: z.infer<typeof Paused>): void {
    if (paused.resourceType !== "Document") {
      if (this.holdsRequests) this.held.push(paused);
      else void this.answer(paused);
      return;
    }
    // A second document in the entry's own frame: wherever it leads, the entry is no longer there.
    if (paused.frameId === this.stageFrameId) {
      this.leave(paused.request.url);
      this.tell("Fetch.failRequest", { requestId: paused.requestId, errorReason: "Aborted" });
    } else void this.answer(paused);
  }

  /** Answers what was asked since the last frame, and waits (not for ever) until the page has noticed. */
  async answerHeld(): Promise<void> {
    if (this.held.length === 0) return;
    const batch = this.held.splice(0);
    const noticed = batch.flatMap(({ networkId }) =>
      networkId === undefined ? [] : [new Promise<void>((resolve) => this.unnoticed.set(networkId, resolve))],
    );
    for (const paused of batch) await this.answer(paused);
    if (noticed.length > 0) await Promise.race([Promise.all(noticed), sleep(NOTICE_LIMIT_MS)]);
    this.unnoticed.clear();
  }

  private async answer({ requestId, request, resourceType }: z.infer<typeof Paused>): Promise<void> {
    const served = await this.options.serve(request.url);
    if (served.kind === "found") {
      this.noteServed(served);
      const responseHeaders = Object.entries(served.headers).map(([name, value]) => ({ name, value }));
      const body = served.body.toString("base64");
      this.tell("Fetch.fulfillRequest", { requestId, responseCode: 200, responseHeaders, body });
      return;
    }
    if (served.kind === "missing") {
      if (!this.isOver && !served.isUsual && this.missing.length < MOST_BLOCKED && !this.missing.includes(served.path))
        this.missing.push(served.path);
      this.tell("Fetch.fulfillRequest", { requestId, responseCode: 404 });
      return;
    }
    if (!this.isOver && this.blocked.length < MOST_BLOCKED)
      this.blocked.push({ url: request.url.slice(0, 1000), type: resourceType, library: served.library });
    this.tell("Fetch.failRequest", { requestId, errorReason: "BlockedByClient" });
  }

  private noteServed({ body, substitution }: Extract<Served, { kind: "found" }>): void {
    this.servedBytes += body.length;
    if (substitution && !this.substitutions.some(({ url }) => url === substitution.url))
      this.substitutions.push(substitution);
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
      where: top ? this.describePlace(top.url, top.lineNumber) : null,
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
      where: details.url ? this.describePlace(details.url, details.lineNumber) : null,
    });
  }

  /** What the browser says of the page: what it kept it from doing, among others. */
  private addBrowserEntry({ source, level, text, url, lineNumber }: z.infer<typeof BrowserEntry>["entry"]): void {
    // Requests are told in full where they are answered.
    if (source === "network") return;
    const popup = /^Blocked opening '([^']*)' in a new window/.exec(text);
    if (popup) this.addPopup(popup[1]!);
    this.add({
      level: level === "error" ? "error" : level === "warning" ? "warning" : "info",
      text,
      source: "browser",
      where: url && lineNumber !== undefined ? this.describePlace(url, lineNumber) : null,
    });
  }

  /** A line of the recorder's own among the page's: what of a walkthrough could not be done. */
  note(text: string): void {
    this.add({ level: "warning", text, source: "recorder", where: null });
  }

  private add(line: Omit<LogLine, "atMs">): void {
    if (this.log.length < MOST_LOG_LINES)
      this.log.push({ ...line, text: line.text.slice(0, LONGEST_LOG_TEXT), atMs: this.nowMs });
  }

  private describePlace(url: string, lineNumber: number): string {
    return `${url.replace(/^https?:\/\/[^/]*\.localhost\//, "")}:${lineNumber + 1}`;
  }
}
