import { setTimeout as sleep } from "node:timers/promises";
import type { BlockedRequest, Substitution } from "@tourney/core/contract";
import * as z from "zod";
import type { CdpEvent } from "../browser/cdp-pipe.js";
import type { GroupMeter } from "../browser/process-group.js";
import type { Served, ServePage } from "./serve-page.js";

export const MOST_BLOCKED = 100;

export const Paused = z.object({
  requestId: z.string(),
  networkId: z.string().optional(),
  frameId: z.string(),
  request: z.object({ url: z.string() }),
  resourceType: z.string().catch("Other"),
});
export type Paused = z.infer<typeof Paused>;
const Announced = z.object({
  requestId: z.string(),
  request: z.object({ url: z.string() }),
  type: z.string().optional(),
});
const Ended = z.object({ requestId: z.string() });

/** How often is looked whether what the page asked for has come. */
const LOOK_EVERY_MS = 2;
/** A browser that uses so much processor time without sleeping once has something in it that never does, as a worker in a loop. */
const RESTLESS_MS = 1000;
/** Such a one is not waited for any longer. */
const LOOKS_AT_RESTLESS = 10;
/** A page that asks for more than this asks without end: its answers are no longer waited for one by one. */
const MOST_ANSWERS = 500;

interface GateOptions {
  serve: ServePage;
  /** Sends a command whose failure shows elsewhere: the page may be gone by the time it arrives. */
  tell: (method: string, params: object) => void;
  /** What the browser's processes do. */
  meter: GroupMeter;
}

/**
 * Answers what a page asks for, and only while its time stands still: answered while it runs, it would arrive at another page time in
 * every recording. The browser's process says that a request waits for an answer, the page's process says that it asked for something and
 * that it got it; the latter come in the order in which the page runs, so none is missed however busy the machine is.
 */
export class RequestGate {
  readonly blocked: BlockedRequest[] = [];
  readonly missing: string[] = [];
  readonly substitutions: Substitution[] = [];
  servedBytes = 0;
  /** Set when the clip is over: what is asked for then is not noted. */
  isOver = false;
  /** Whether nothing waits for the page's time to stand still. */
  answersAtOnce = false;
  private readonly held: Paused[] = [];
  /** What the page asked for, in its order, until it waits for an answer. */
  private readonly announced = new Set<string>();
  private readonly order = new Map<string, number>();
  /** What was answered, until the page has noticed. */
  private readonly unnoticed = new Set<string>();
  /** Whether the page said that it goes somewhere, and has not asked for that yet. */
  private expectsDocument = false;
  private asked = 0;
  private answered = 0;
  private isRestless = false;

  constructor(private readonly options: GateOptions) {}

  /** @returns whether the event was one of a request. */
  handle({ method, params }: CdpEvent): boolean {
    switch (method) {
      case "Network.requestWillBeSent": {
        const { requestId, request, type } = Announced.parse(params);
        if (!/^https?:/i.test(request.url) || type === "Document") return true;
        this.announced.add(requestId);
        this.order.set(requestId, ++this.asked);
        return true;
      }
      case "Network.requestServedFromCache":
      case "Network.loadingFinished":
      case "Network.loadingFailed": {
        const { requestId } = Ended.parse(params);
        this.announced.delete(requestId);
        this.order.delete(requestId);
        this.unnoticed.delete(requestId);
        return true;
      }
      default:
        return false;
    }
  }

  /** The page is about to ask for a document: its process says so before it stands still, the browser's asks a moment later. */
  expectDocument(): void {
    this.expectsDocument = true;
  }

  /** It asked, whatever becomes of that. */
  noteDocument(): void {
    this.expectsDocument = false;
  }

  /** A request that waits for its answer. */
  receive(paused: Paused): void {
    if (paused.networkId !== undefined) this.announced.delete(paused.networkId);
    if (this.isOver || this.answersAtOnce) void this.answer(paused);
    else this.held.push(paused);
  }

  /** Answers at once: a document, for which time waits. */
  answerNow(paused: Paused): void {
    void this.answer(paused);
  }

  /** Whether something that the page asked for was not answered yet. */
  get hasWaiting(): boolean {
    return this.held.length > 0 || this.announced.size > 0 || this.expectsDocument;
  }

  /** Whether the page does nothing but wait for an answer, as one does that asks and will not go on without. */
  isStalled(): boolean {
    return this.held.length > 0 && this.options.meter.isAsleep();
  }

  /** Answers what was asked, in the order in which the page asked, and waits until the page has it. */
  async settle(): Promise<void> {
    if (!this.hasWaiting) return;
    await this.until(() => this.announced.size === 0 && !this.expectsDocument);
    this.announced.clear();
    this.expectsDocument = false;
    const batch = this.held.splice(0).sort((a, b) => this.placeOf(a) - this.placeOf(b));
    for (const paused of batch) {
      if (paused.networkId !== undefined) this.unnoticed.add(paused.networkId);
      await this.answer(paused);
      if (++this.answered > MOST_ANSWERS) continue;
      // One after the other, or they would come in another order each time.
      await this.until(() => this.unnoticed.size === 0);
      this.unnoticed.clear();
    }
  }

  private placeOf({ networkId }: Paused): number {
    return (networkId === undefined ? undefined : this.order.get(networkId)) ?? Infinity;
  }

  /** Waits until something holds, or until nothing is left that could bring it about. */
  private async until(holds: () => boolean): Promise<void> {
    const { meter } = this.options;
    let sinceMs: number | null = null;
    for (let looks = 0, slept = 0; !holds() && slept < 3; looks++) {
      await sleep(LOOK_EVERY_MS);
      slept = meter.isAsleep() ? slept + 1 : 0;
      if (this.isRestless && looks >= LOOKS_AT_RESTLESS) return;
      if (looks % LOOKS_AT_RESTLESS !== 0) continue;
      const usedMs = meter.measureCpuMs();
      sinceMs ??= usedMs;
      if (usedMs - sinceMs >= RESTLESS_MS) this.isRestless = true;
    }
  }

  /** Waits until nothing goes on in the browser, but not for ever: a worker may never sleep. */
  async untilAsleep(): Promise<void> {
    await this.until(() => false);
  }

  private async answer({ requestId, request, resourceType }: Paused): Promise<void> {
    const { tell, serve } = this.options;
    const served = await serve(request.url);
    if (served.kind === "found") {
      this.noteServed(served);
      const responseHeaders = Object.entries(served.headers).map(([name, value]) => ({ name, value }));
      const body = served.body.toString("base64");
      tell("Fetch.fulfillRequest", { requestId, responseCode: 200, responseHeaders, body });
      return;
    }
    if (served.kind === "missing") {
      if (!this.isOver && !served.isUsual && this.missing.length < MOST_BLOCKED && !this.missing.includes(served.path))
        this.missing.push(served.path);
      tell("Fetch.fulfillRequest", { requestId, responseCode: 404 });
      return;
    }
    if (!this.isOver && this.blocked.length < MOST_BLOCKED)
      this.blocked.push({ url: request.url.slice(0, 1000), type: resourceType, library: served.library });
    tell("Fetch.failRequest", { requestId, errorReason: "BlockedByClient" });
  }

  private noteServed({ body, substitution }: Extract<Served, { kind: "found" }>): void {
    this.servedBytes += body.length;
    if (substitution && !this.substitutions.some(({ url }) => url === substitution.url))
      this.substitutions.push(substitution);
  }
}
