import * as z from "zod";

/** What the server tells apart when something has changed. */
const Changed = z.array(z.enum(["cells", "ballots"]));
export type About = z.infer<typeof Changed>[number];
/** What is pushed whole: a run, or the standings of an edition. */
type Watched = "run" | "standings";
type Watch = { kind: Watched; id: string; onData: (data: unknown) => void };

/** A browser gives up a line that was answered with an error, as by a server that is being started. */
const AGAIN_MS = 3000;
/** What is whole again sooner is not worth a word. */
const CUT_MS = 1500;
/**
 * A browser keeps six connections to a host in all: a page that nobody has looked at for so long gives its line back, or the seventh tab would wait for
 * ever.
 */
const ASLEEP_AFTER_MS = 5000;
/** Screens come and go; the line is opened again once for all that has changed of what they watch. */
const SETTLE_MS = 50;

/**
 * The page's one line to the server, over which it is told of all that moves. The browser opens it again by itself when it
 * breaks; the server then tells what was missed.
 */
class PageLine {
  private events: EventSource | null = null;
  private address = "";
  /** What was told last, as the server names it. */
  private mark: string | null = null;
  private readonly watches = new Set<Watch>();
  private readonly followers = new Set<(about: readonly About[]) => void>();
  private readonly onCut = new Set<() => void>();
  private cutting: ReturnType<typeof setTimeout> | null = null;
  private isAsleep = false;
  private sleeping: ReturnType<typeof setTimeout> | null = null;
  private settling: ReturnType<typeof setTimeout> | null = null;
  /** Whether it has been away for more than a moment, so that what is shown may be old. */
  isCut = false;

  constructor() {
    const turn = () => {
      if (this.sleeping !== null) clearTimeout(this.sleeping);
      this.sleeping = document.hidden ? setTimeout(() => this.setAsleep(true), ASLEEP_AFTER_MS) : null;
      if (!document.hidden) this.setAsleep(false);
    };
    document.addEventListener("visibilitychange", turn);
    turn();
  }

  /** @returns ends it. */
  watch(kind: Watched, id: string, onData: (data: unknown) => void): () => void {
    return this.join(this.watches, { kind, id, onData });
  }

  /** @returns ends it. */
  follow(onMove: (about: readonly About[]) => void): () => void {
    return this.join(this.followers, onMove);
  }

  readonly subscribeToCut = (listener: () => void): (() => void) => {
    this.onCut.add(listener);
    return () => this.onCut.delete(listener);
  };

  private join<T>(all: Set<T>, one: T): () => void {
    all.add(one);
    this.settle();
    return () => {
      all.delete(one);
      this.settle();
    };
  }

  private settle(): void {
    if (typeof EventSource === "undefined") return;
    this.settling ??= setTimeout(() => {
      this.settling = null;
      this.open();
    }, SETTLE_MS);
  }

  private open(): void {
    const watched = [...new Set([...this.watches].map(({ kind, id }) => `${kind}=${encodeURIComponent(id)}`))];
    const isWanted = !this.isAsleep && this.watches.size + this.followers.size > 0;
    const address = isWanted ? `/api/events?${watched.sort().join("&")}` : "";
    if (address === this.address) return;
    this.address = address;
    this.events?.close();
    this.events = null;
    if (!isWanted) {
      this.setCut(false);
      return;
    }
    const since = this.mark === null ? "" : `&since=${encodeURIComponent(this.mark)}`;
    const events = new EventSource(address + since);
    this.events = events;
    events.addEventListener("open", () => this.setCut(false));
    events.addEventListener("error", () => {
      this.cutting ??= setTimeout(() => this.setCut(true), CUT_MS);
      if (events.readyState === EventSource.CLOSED) this.openAgain();
    });
    events.addEventListener("changed", ({ data, lastEventId }: MessageEvent<string>) => {
      this.mark = lastEventId;
      const about = Changed.safeParse(JSON.parse(data)).data ?? [];
      if (about.length > 0) for (const onMove of this.followers) onMove(about);
    });
    for (const watch of watched) {
      const subject = decodeURIComponent(watch).replace("=", ":");
      events.addEventListener(subject, ({ data }: MessageEvent<string>) => {
        const read = JSON.parse(data) as unknown;
        for (const { kind, id, onData } of this.watches) if (`${kind}:${id}` === subject) onData(read);
      });
    }
  }

  private setAsleep(isAsleep: boolean): void {
    if (isAsleep === this.isAsleep) return;
    this.isAsleep = isAsleep;
    this.settle();
  }

  private openAgain(): void {
    this.address = "";
    setTimeout(() => this.open(), AGAIN_MS);
  }

  private setCut(isCut: boolean): void {
    if (this.cutting !== null) clearTimeout(this.cutting);
    this.cutting = null;
    if (isCut === this.isCut) return;
    this.isCut = isCut;
    for (const listener of this.onCut) listener();
  }
}

export const pageLine = new PageLine();
