import type { LogLine } from "@tourney/core/contract";
import * as z from "zod";
import type { CdpEvent, CdpPipe } from "../browser/cdp-pipe.js";
import type { GroupMeter } from "../browser/process-group.js";
import { hideAddresses, hideTimes } from "./log-text.js";
import { Paused, RequestGate } from "./request-gate.js";
import type { ServePage } from "./serve-page.js";

const MOST_LOG_LINES = 200;
const LONGEST_LOG_TEXT = 2000;
/** A page that talks more than this is not listened to any longer, or its talk would fill the pipe. */
const MOST_EVENTS = 1000;
/** A page that opens this many dialogs opens them without end; only the first are kept. */
const MOST_DIALOGS = 1000;
const MOST_DIALOGS_KEPT = 50;
const MOST_POPUPS = 50;
/** A page that loads itself again more often than this, without having been told to, gets nowhere. */
const MOST_OWN_RELOADS = 5;
/** And no walkthrough has so many. */
const MOST_RELOADS = 50;

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
const Requested = z.object({ frameId: z.string() });
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

/** What must be seen to even when the clip is over, so that the page is not left waiting. */
const AFTERWARDS = new Set(["Fetch.requestPaused", "Page.javascriptDialogOpening"]);

export interface WatchOptions {
  pipe: CdpPipe;
  sessionId: string;
  mainFrameId: string;
  serve: ServePage;
  meter: GroupMeter;
  /** Called once, when nothing more is to be had from the page. */
  onEnd: () => void;
}

/** What a page did while it was recorded, gathered from the protocol's events. */
export class PageWatch {
  readonly log: LogLine[] = [];
  readonly requests: RequestGate;
  readonly dialogs: { type: string; message: string; atMs: number; isAnswer: boolean }[] = [];
  readonly popups: { url: string; atMs: number; isAnswer: boolean }[] = [];
  readonly downloads: string[] = [];
  readonly workers = new Set<string>();
  /** The frame that the entry is in, once its document has begun. */
  stageFrameId: string | null = null;
  /** Whether all that belongs to the page to begin with has come. */
  hasLoaded = false;
  /** How many documents of its own the entry has had: more than one when it was loaded again. */
  documents = 0;
  /** Where the entry went by itself, or null. */
  navigatedTo: string | null = null;
  /** Where it would have gone after an input; it was kept on its page. `isAnswer` where that came right after one. */
  readonly undone: { url: string; atMs: number; isAnswer: boolean }[] = [];
  /** When it was loaded again. */
  readonly reloads: { atMs: number; isAnswer: boolean }[] = [];
  /** Whether the page was given an input: none yet, some time ago, or just now, so that what it does may be its answer. */
  inputs: "none" | "before" | "now" = "none";
  /** What it did without end, or null. */
  flooded: "dialogs" | "popups" | null = null;
  crashed = false;
  crashedForMemory = false;
  /** Page time, set by the recorder before each grant. */
  nowMs = 0;
  /** Of the entry's first document. */
  private address = "";
  private hasGone = false;
  private isOver = false;
  private events = 0;
  private dialogCount = 0;

  constructor(private readonly options: WatchOptions) {
    const { serve, meter } = options;
    this.requests = new RequestGate({ serve, meter, tell: (method, params) => this.tell(method, params) });
  }

  /** The clip is over: what the page does while it is looked at closely is not part of it. */
  end(): void {
    this.isOver = true;
    this.requests.isOver = true;
  }

  /** Moments at which the page did something that a person sees, beyond its document and its picture. */
  get answersMs(): number[] {
    return [...this.dialogs, ...this.popups, ...this.undone, ...this.reloads].flatMap(({ atMs, isAnswer }) =>
      isAnswer ? [atMs] : [],
    );
  }

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
    if (event.sessionId !== this.options.sessionId || this.requests.handle(event)) return;
    switch (event.method) {
      case "Fetch.requestPaused":
        return this.receiveRequest(Paused.parse(event.params));
      case "Page.javascriptDialogOpening":
        return this.receiveDialog(Dialog.parse(event.params));
      case "Page.loadEventFired":
        this.hasLoaded = true;
        return;
      case "Page.frameRequestedNavigation":
        if (Requested.parse(event.params).frameId === this.stageFrameId) this.requests.expectDocument();
        return;
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

  /** Whether an address is another document's than the entry's own. */
  leadsAway(address: string): boolean {
    return !/^javascript:/i.test(address) && !isSamePage(address, this.address);
  }

  /** A window that the page opened, which was closed at once. */
  addPopup(url: string): void {
    this.popups.push({ url: url.slice(0, 500), atMs: this.nowMs, isAnswer: this.inputs === "now" });
    if (this.popups.length >= MOST_POPUPS) this.flood("popups");
  }

  private receiveDialog({ type, message }: z.infer<typeof Dialog>): void {
    if (!this.isOver && this.dialogs.length < MOST_DIALOGS_KEPT) {
      const isAnswer = this.inputs === "now";
      this.dialogs.push({ type, message: message.slice(0, 200), atMs: this.nowMs, isAnswer });
    }
    if (++this.dialogCount >= MOST_DIALOGS) return this.flood("dialogs");
    this.tell("Page.handleJavaScriptDialog", { accept: false });
  }

  private flood(what: NonNullable<PageWatch["flooded"]>): void {
    this.flooded ??= what;
    this.options.onEnd();
  }

  private receiveNavigation(frame: z.infer<typeof FrameNavigated>["frame"]): void {
    if (frame.parentId === undefined) return;
    if (this.stageFrameId === null && frame.parentId === this.options.mainFrameId) this.stageFrameId = frame.id;
    if (frame.id !== this.stageFrameId) return;
    const url = frame.unreachableUrl ?? frame.url;
    if (this.documents === 0) this.address = url;
    // Some places are gone to without asking: an empty page, one of its own making.
    if (isSamePage(url, this.address)) {
      if (++this.documents > 1) this.reloads.push({ atMs: this.nowMs, isAnswer: this.inputs === "now" });
    } else {
      this.hasGone = true;
      this.leave(url);
    }
  }

  private mayReload(): boolean {
    const own = this.reloads.filter(({ isAnswer }) => !isAnswer).length;
    return own < MOST_OWN_RELOADS && this.documents < MOST_RELOADS;
  }

  /** Whether the entry's document is still shown. */
  get isThere(): boolean {
    return !this.crashed && !this.hasGone;
  }

  private leave(url: string): void {
    this.navigatedTo ??= url;
  }

  /** Sends a command whose failure shows elsewhere: the page may be gone by the time it arrives. */
  private tell(method: string, params: object): void {
    this.options.pipe.send(method, params, this.options.sessionId).catch(() => undefined);
  }

  private receiveRequest(paused: z.infer<typeof Paused>): void {
    if (paused.resourceType !== "Document") return this.requests.receive(paused);
    this.requests.noteDocument();
    const { url } = paused.request;
    const isOfEntry = this.stageFrameId !== null && paused.frameId === this.stageFrameId;
    // The page around the entry is needed for anything to go on; all else comes when time stands still.
    if (paused.frameId === this.options.mainFrameId) return this.requests.answerNow(paused);
    if (!isOfEntry || (isSamePage(url, this.address) && this.mayReload())) return this.requests.receive(paused);
    // Kept from going, the page stays as it is. After an input it is not known whether it goes by itself.
    if (this.inputs !== "none" && !isSamePage(url, this.address)) this.undo(url);
    else this.leave(url);
    this.tell("Fetch.failRequest", { requestId: paused.requestId, errorReason: "Aborted" });
  }

  private undo(url: string): void {
    if (this.isOver) return;
    if (this.undone.length >= MOST_POPUPS) return;
    this.undone.push({ url: url.slice(0, 500), atMs: this.nowMs, isAnswer: this.inputs === "now" });
    this.note(`It leads to ${url.slice(0, 200)} after an input; it is kept on its page.`);
  }

  private addConsole({ type, args, stackTrace }: z.infer<typeof ConsoleCall>): void {
    const text = args.map((arg) =>
      typeof arg.value === "string"
        ? arg.value
        : (arg.description ?? (arg.value === undefined ? arg.type : JSON.stringify(arg.value))),
    );
    const isTiming = type === "timeEnd" || type === "timeLog";
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
      text: isTiming ? hideTimes(text.join(" ")) : text.join(" "),
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
      this.log.push({ ...line, text: hideAddresses(line.text).slice(0, LONGEST_LOG_TEXT), atMs: this.nowMs });
  }

  private describePlace(url: string, lineNumber: number): string {
    return `${url.replace(/^https?:\/\/[^/]*\.localhost\//, "")}:${lineNumber + 1}`;
  }
}

/** Whether an address is that of a document, whatever is asked of it or pointed to in it. */
const isSamePage = (url: string, address: string): boolean => withoutQuery(url) === withoutQuery(address);
const withoutQuery = (url: string): string => url.split(/[?#]/, 1)[0]!;
