import type { Stamp, Stamps } from "./changes.js";

interface Held<T> {
  stamp: Stamp;
  value: Promise<T>;
  /** What took long is given again until then, though others have changed something meanwhile. */
  restsUntil: number;
}

/** Pages of a few leads look at a few editions. */
const MOST_KEPT = 12;
/** What took less than this is read again after every change: it needs no rest. */
const QUICK_MS = 200;
/** Nothing that rests is older than this. */
export const LONGEST_REST_MS = 30_000;

/** What is asked for again and again, kept until something changes. However many ask at once, it is read once. */
export class Kept<T> {
  private readonly held = new Map<string, Held<T>>();

  /**
   * @param changes null where nobody tells of them: everything is read each time
   * @param rests for so many times as long as it took, what was slow to read holds against changes by others.
   */
  constructor(
    private changes: Stamps | null,
    private rests: number = 0,
  ) {}

  /** From now on holds what does not change. */
  follow(changes: Stamps, rests: number = this.rests): void {
    this.changes = changes;
    this.rests = rests;
  }

  async get(key: string, read: () => Promise<T>): Promise<T> {
    const stamp = (await this.changes?.stamp()) ?? null;
    if (stamp === null) return read();
    const before = this.held.get(key);
    this.held.delete(key);
    if (before !== undefined && holds(before, stamp)) {
      this.held.set(key, before);
      if (before.stamp.told !== stamp.told) this.changes?.remind?.(before.restsUntil - performance.now());
      return before.value;
    }
    const startedAt = performance.now();
    const held: Held<T> = { stamp, value: read(), restsUntil: 0 };
    this.held.set(key, held);
    for (const oldest of [...this.held.keys()].slice(0, -MOST_KEPT)) this.held.delete(oldest);
    try {
      await held.value;
      const now = performance.now();
      const restMs = now - startedAt < QUICK_MS ? 0 : Math.min(LONGEST_REST_MS, (now - startedAt) * this.rests);
      held.restsUntil = now + restMs;
    } catch (error) {
      if (this.held.get(key) === held) this.held.delete(key);
      throw error;
    }
    return held.value;
  }
}

const holds = <T>({ stamp, restsUntil }: Held<T>, now: Stamp): boolean =>
  stamp.own === now.own && (stamp.told === now.told || performance.now() < restsUntil);
