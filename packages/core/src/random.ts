/** Source of uniform numbers in [0, 1). Pass a seeded one so that a result can be reproduced. */
export type Random = () => number;

/** A 32-bit hash of a text (FNV-1a; Fowler, Noll & Vo 1991), for turning names into seeds. Not for secrets. */
export function hashText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    hash ^= text.charCodeAt(i);
    hash = Math.imul(hash, 0x01000193);
  }
  return hash >>> 0;
}

/** The mulberry32 generator (Ettinger 2017): 32 bits of state, uniform in [0, 1). */
export function createRandom(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** One standard normal number (Box & Muller 1958). */
export function drawNormal(random: Random): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

/** One item at random. Requires a non-empty list. */
export function pickOne<T>(items: readonly T[], random: Random): T {
  return items[Math.floor(random() * items.length)]!;
}
