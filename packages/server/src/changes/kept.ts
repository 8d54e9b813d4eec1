import type { Stamp, Stamps } from "./changes.js";

interface Held<T> {
  stamp: Stamp;
  value: Promise<T>;
  /** It is given again until then, though others have changed something meanwhile. */
  restsUntil: number;
  /** When it was there, and how long it took; null while it is read. */
  read: { at: number; tookMs: number } | null;
  /** What is given instead while it is read. */
  former: Held<T> | null;
}

/** For what never changes: it is read once. */
export const UNCHANGING: Stamps = { stamp: () => Promise.resolve({ own: 0, told: 0 }) };

/** Pages of a few leads look at a few editions. */
const MOST_KEPT = 12;
/** What took less than this is read again after every change, unless said otherwise: it needs no rest. */
export const QUICK_MS = 200;
/** Nothing that rests is older than this. */
export const LONGEST_REST_MS = 30_000;
/** Where the last reading took as long as this, callers get the last value at once, unless said otherwise. The server reads again in the background, then tells open pages. */
const SLOW_MS = 1000;
/** A last value older than this is not given any more: callers wait for the new one. */
const OLDEST_MS = 3_600_000;

/** Milliseconds for which a value is given again after it was read, though others have changed something meanwhile. */
type RestOf<T> = (tookMs: number, value: T) => number;

export interface KeptOptions {
  /** For so many times as long as it took, what was slow to read holds against changes by others. */
  rests?: number;
  /** How many values are kept; the one that was asked for longest ago goes first. */
  most?: number;
  /** Milliseconds. What took less needs no rest. */
  quickMs?: number;
  /** Milliseconds. While what took as long is read again, callers get its last value. */
  slowMs?: number;
}

/**
 * What is asked for again and again, kept until something changes. However many ask at once, it is read once. Callers always see what this server itself has changed. What others
 * changed may show some seconds later where reading is slow.
 */
export class Kept<T> {
  private readonly held = new Map<string, Held<T>>();
  private rests: number;
  private readonly most: number;
  private readonly quickMs: number;
  private readonly slowMs: number;

  /** @param changes null where nobody tells of them: everything is read each time */
  constructor(
    private changes: Stamps | null,
    { rests = 0, most = MOST_KEPT, quickMs = QUICK_MS, slowMs = SLOW_MS }: KeptOptions = {},
  ) {
    this.rests = rests;
    this.most = most;
    this.quickMs = quickMs;
    this.slowMs = slowMs;
  }

  /** From now on holds what does not change. */
  follow(changes: Stamps, rests: number = this.rests): void {
    this.changes = changes;
    this.rests = rests;
  }

  /** @param restOf where how long it took does not alone tell how long its value rests */
  async get(key: string, read: () => Promise<T>, restOf: RestOf<T> = this.restOf): Promise<T> {
    const stamp = (await this.changes?.stamp()) ?? null;
    if (stamp === null) return read();
    const before = this.held.get(key);
    this.held.delete(key);
    if (before !== undefined && before.former !== null && before.stamp.own === stamp.own) {
      this.held.set(key, before);
      return before.former.value;
    }
    if (before !== undefined && holds(before, stamp)) {
      this.held.set(key, before);
      if (before.stamp.told !== stamp.told) this.changes?.remind?.(before.restsUntil - performance.now());
      return before.value;
    }
    const { reading, former } = this.readInto({ key, read, restOf }, stamp, before);
    if (former === null) return reading;
    // If this reading fails, the next caller reads again and gets the error.
    reading.then(
      () => this.changes?.remind?.(0),
      (error: unknown) => this.changes?.report?.(error),
    );
    return former.value;
  }

  /** For whoever keeps a pace of its own and tells others: waits for what is read after the last change, though callers get the last value meanwhile. */
  async getFresh(key: string, read: () => Promise<T>, restOf: RestOf<T> = this.restOf): Promise<T> {
    const stamp = (await this.changes?.stamp()) ?? null;
    if (stamp === null) return read();
    const before = this.held.get(key);
    if (before?.stamp.own === stamp.own && before.stamp.told === stamp.told) return before.value;
    return this.readInto({ key, read, restOf }, stamp, before).reading;
  }

  protected readonly restOf = (tookMs: number): number => (tookMs < this.quickMs ? 0 : tookMs * this.rests);

  private readInto(
    { key, read, restOf }: { key: string; read: () => Promise<T>; restOf: RestOf<T> },
    stamp: Stamp,
    before: Held<T> | undefined,
  ): { reading: Promise<T>; former: Held<T> | null } {
    const last = before?.read === null ? before.former : (before ?? null);
    const former = last !== null && this.serves(last, stamp) ? last : null;
    const held: Held<T> = { stamp, value: read(), restsUntil: 0, read: null, former };
    this.held.delete(key);
    this.held.set(key, held);
    for (const oldest of [...this.held.keys()].slice(0, -this.most)) this.held.delete(oldest);
    return { reading: this.finish(key, held, restOf), former };
  }

  private async finish(key: string, held: Held<T>, restOf: RestOf<T>): Promise<T> {
    const startedAt = performance.now();
    try {
      const value = await held.value;
      const at = performance.now();
      const tookMs = at - startedAt;
      held.read = { at, tookMs };
      held.restsUntil = at + Math.min(LONGEST_REST_MS, restOf(tookMs, value));
    } catch (error) {
      if (this.held.get(key) === held) this.held.delete(key);
      throw error;
    } finally {
      held.former = null;
    }
    return held.value;
  }

  /** Whether callers get this value while the server reads again: only if the last reading was slow, and only others have changed something. */
  private serves({ stamp: { own }, read }: Held<T>, now: Stamp): boolean {
    return this.rests > 0 && own === now.own && read !== null && read.tookMs >= this.slowMs && isRecent(read.at);
  }
}

const isRecent = (at: number): boolean => performance.now() - at < OLDEST_MS;

const holds = <T>({ stamp, restsUntil }: Held<T>, now: Stamp): boolean =>
  stamp.own === now.own && (stamp.told === now.told || performance.now() < restsUntil);
