import { createHash } from "node:crypto";
import type { Changes, Stamp } from "./changes.js";

/** An answer as it goes over the wire, and the tag that tells it apart from others. */
export interface KeptAnswer {
  text: string;
  tag: string;
}

interface Held {
  stamp: Stamp;
  answer: Promise<KeptAnswer>;
  /** What took long is given again until then, though others have changed something meanwhile. */
  restsUntil: number;
}

/** Pages of a few leads look at a few editions. */
const MOST_KEPT = 12;
/** An answer that took less than this is read again after every change: it needs no rest. */
const QUICK_MS = 200;
const LONGEST_REST_MS = 5000;

/**
 * Answers to what open pages ask for again and again, kept until something changes. However many ask at once, it is read once.
 *
 * @param rests for so many times as long as it took, an answer that was slow to read holds against changes by others.
 */
export class KeptAnswers {
  private readonly held = new Map<string, Held>();

  constructor(
    private readonly changes: Pick<Changes, "stamp">,
    private readonly rests: number = 0,
  ) {}

  async get(key: string, read: () => Promise<string>): Promise<KeptAnswer> {
    const stamp = await this.changes.stamp();
    if (stamp === null) return tag(await read());
    const before = this.held.get(key);
    this.held.delete(key);
    if (before !== undefined && holds(before, stamp)) {
      this.held.set(key, before);
      return before.answer;
    }
    const startedAt = performance.now();
    const held: Held = { stamp, answer: read().then(tag), restsUntil: 0 };
    this.held.set(key, held);
    for (const oldest of [...this.held.keys()].slice(0, -MOST_KEPT)) this.held.delete(oldest);
    try {
      await held.answer;
      const now = performance.now();
      const restMs = now - startedAt < QUICK_MS ? 0 : Math.min(LONGEST_REST_MS, (now - startedAt) * this.rests);
      held.restsUntil = now + restMs;
    } catch (error) {
      if (this.held.get(key) === held) this.held.delete(key);
      throw error;
    }
    return held.answer;
  }
}

const holds = ({ stamp, restsUntil }: Held, now: Stamp): boolean =>
  stamp.own === now.own && (stamp.told === now.told || performance.now() < restsUntil);

const tag = (text: string): KeptAnswer => ({
  text,
  tag: `"${createHash("sha1").update(text).digest("base64url")}"`,
});
