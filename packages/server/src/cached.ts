interface Keeping<A> {
  keyOf: (argument: A) => string;
  /** A value is cached for at least this long. */
  keptMs: number;
  /** Also cached for this many times as long as the read took, so that reading takes at most one part in as many of the time. */
  sparing?: number;
  now?: () => number;
}

interface Kept<T> {
  value: Promise<T>;
  /** When it is to be read anew; infinite while it is being read. */
  until: number;
}

/**
 * Values that are asked for often and may be a little old: read once for all who ask meanwhile. While one is being read anew, the one before
 * is given out for another `keptMs`, so that nobody waits under load. A failure is told to those who wait, and not kept.
 */
export function cached<A, T>(
  read: (argument: A) => Promise<T>,
  { keyOf, keptMs, sparing = 0, now = Date.now }: Keeping<A>,
): (argument: A) => Promise<T> {
  const known = new Map<string, Kept<T>>();
  return (argument) => {
    const key = keyOf(argument);
    const last = known.get(key);
    const startedAt = now();
    if (last && startedAt < last.until) return last.value;
    const next: Kept<T> = { value: read(argument), until: Infinity };
    known.set(key, next);
    next.value.then(
      () => (next.until = now() + Math.max(keptMs, sparing * (now() - startedAt))),
      () => known.delete(key),
    );
    return last && startedAt < last.until + keptMs ? last.value : next.value;
  };
}
