/** Takes a computation that goes step by step to its end at once. */
export function finish<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done === true) return value;
  }
}
