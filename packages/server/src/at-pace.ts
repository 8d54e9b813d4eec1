interface Pacing<A, T> {
  keyOf: (argument: A) => string;
  /** Milliseconds. A reading that cost less is repeated for every caller. */
  slowMs: number;
  /** What costs as much or more rests for so many times as long. */
  times: number;
  /** It rests no longer than this. */
  longestMs?: number;
  /** What reading it cost, in milliseconds, where that is not how long it took. */
  costOf?: (value: T) => number;
  now?: () => number;
}

interface State<T> {
  last: Promise<T> | null;
  tookMs: number;
  restsUntil: number;
  running: Promise<T> | null;
  /** What begins when the running one is over, for those who ask meanwhile. */
  next: Promise<T> | null;
}

/** A call may get the last value; `fresh` waits for one that is read after the call, for whoever keeps a pace of its own. */
export type Paced<A, T> = ((argument: A) => Promise<T>) & { fresh: (argument: A) => Promise<T> };

/**
 * Repeats a reading at a pace that the machine bears. A quick one starts after each call, so that callers see what they have just changed. After a slow one, callers
 * get the last value, and the next reading waits `times` times as long as the last one cost.
 */
export function atPace<A, T>(
  read: (argument: A) => Promise<T>,
  { keyOf, slowMs, times, longestMs = Infinity, costOf, now = Date.now }: Pacing<A, T>,
): Paced<A, T> {
  const states = new Map<string, State<T>>();

  function run(state: State<T>, argument: A): Promise<T> {
    const startedAt = now();
    const reading = read(argument);
    state.running = reading;
    const over = (cost: number) => {
      state.running = null;
      state.tookMs = cost;
      state.restsUntil = state.tookMs < slowMs ? 0 : now() + Math.min(longestMs, times * state.tookMs);
    };
    reading.then(
      (value) => {
        over(costOf === undefined ? now() - startedAt : costOf(value));
        state.last = reading;
      },
      () => over(0),
    );
    return reading;
  }

  function find(argument: A): State<T> {
    const key = keyOf(argument);
    const state = states.get(key) ?? { last: null, tookMs: 0, restsUntil: 0, running: null, next: null };
    states.set(key, state);
    return state;
  }

  function readAfterNow(state: State<T>, argument: A): Promise<T> {
    if (state.running === null) return run(state, argument);
    const begin = () => {
      state.next = null;
      return run(state, argument);
    };
    state.next ??= state.running.then(begin, begin);
    return state.next;
  }

  const get = (argument: A): Promise<T> => {
    const state = find(argument);
    const isSlow = state.tookMs >= slowMs;
    if (state.last !== null && (now() < state.restsUntil || (isSlow && state.running !== null))) return state.last;
    const isFirst = state.running === null;
    const reading = readAfterNow(state, argument);
    // What is slow is read for whoever comes next.
    return isFirst && isSlow && state.last !== null ? state.last : reading;
  };
  return Object.assign(get, { fresh: (argument: A) => readAfterNow(find(argument), argument) });
}
