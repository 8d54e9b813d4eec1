/** How long something rests after it was read. */
export interface Pace {
  /** Milliseconds. What cost less needs no rest. */
  slowMs: number;
  /** What costs as much or more rests for so many times as long. */
  times: number;
  /** Milliseconds. It rests no longer than this. */
  longestMs?: number;
}

/** Milliseconds of rest after a reading that cost so many. */
export const restAfter = (costMs: number, { slowMs, times, longestMs = Infinity }: Pace): number =>
  costMs < slowMs ? 0 : Math.min(longestMs, times * costMs);

interface Pacing<A, T> extends Pace {
  keyOf: (argument: A) => string;
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
  { keyOf, costOf, now = Date.now, ...pace }: Pacing<A, T>,
): Paced<A, T> {
  const states = new Map<string, State<T>>();

  function run(state: State<T>, argument: A): Promise<T> {
    const startedAt = now();
    const reading = read(argument);
    state.running = reading;
    const over = (cost: number) => {
      state.running = null;
      state.tookMs = cost;
      state.restsUntil = now() + restAfter(cost, pace);
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
    const isSlow = state.tookMs >= pace.slowMs;
    if (state.last !== null && (now() < state.restsUntil || (isSlow && state.running !== null))) return state.last;
    const isFirst = state.running === null;
    const reading = readAfterNow(state, argument);
    // What is slow is read for whoever comes next.
    return isFirst && isSlow && state.last !== null ? state.last : reading;
  };
  return Object.assign(get, { fresh: (argument: A) => readAfterNow(find(argument), argument) });
}
