interface Pacing<A, T> {
  keyOf: (argument: A) => string;
  /** Milliseconds. A reading that cost less is repeated for every caller. */
  quickMs: number;
  /** What takes longer rests for so many times as long as it took. */
  sparing: number;
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

/**
 * Repeats a reading at a pace that the machine bears. A quick one starts after each call, so that callers see what they have just changed. After a slow one, callers
 * get the last value, and the next reading waits `sparing` times as long as the last one cost.
 */
export function atPace<A, T>(
  read: (argument: A) => Promise<T>,
  { keyOf, quickMs, sparing, costOf, now = Date.now }: Pacing<A, T>,
): (argument: A) => Promise<T> {
  const states = new Map<string, State<T>>();

  function run(state: State<T>, argument: A): Promise<T> {
    const startedAt = now();
    const reading = read(argument);
    state.running = reading;
    const over = (cost: number) => {
      state.running = null;
      state.tookMs = cost;
      state.restsUntil = state.tookMs < quickMs ? 0 : now() + sparing * state.tookMs;
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

  return (argument) => {
    const key = keyOf(argument);
    const state = states.get(key) ?? { last: null, tookMs: 0, restsUntil: 0, running: null, next: null };
    states.set(key, state);
    const isSlow = state.tookMs >= quickMs;
    if (state.last !== null && (now() < state.restsUntil || (isSlow && state.running !== null))) return state.last;
    if (state.running === null) {
      const reading = run(state, argument);
      // What is slow is read for whoever comes next.
      return isSlow && state.last !== null ? state.last : reading;
    }
    const begin = () => {
      state.next = null;
      return run(state, argument);
    };
    state.next ??= state.running.then(begin, begin);
    return state.next;
  };
}
