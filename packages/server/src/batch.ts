interface Waiting<I, O> {
  item: I;
  resolve: (result: O) => void;
  reject: (error: unknown) => void;
}

/**
 * Does together what is asked for at the same time: while one batch is under way the next gathers. Without load nobody waits for company; under
 * load batches grow, and what a batch costs is shared. When a batch fails, each of its items is done by itself, so that one that
 * cannot be done takes no other with it.
 *
 * @param run resolves with one result for each item, in their order, and either does all of them or none.
 */
export function batch<I, O>(
  run: (items: readonly I[]) => Promise<readonly O[]>,
  { most }: { most: number },
): (item: I) => Promise<O> {
  let waiting: Waiting<I, O>[] = [];
  let isBusy = false;

  async function settle(together: readonly Waiting<I, O>[]): Promise<void> {
    try {
      const results = await run(together.map(({ item }) => item));
      for (const [index, { resolve }] of together.entries()) resolve(results[index]!);
    } catch (error) {
      if (together.length === 1) together[0]!.reject(error);
      else for (const one of together) await settle([one]);
    }
  }

  async function work(): Promise<void> {
    isBusy = true;
    // What is asked for in the same turn of the loop comes along.
    await Promise.resolve();
    while (waiting.length > 0) {
      const together = waiting.slice(0, most);
      waiting = waiting.slice(most);
      await settle(together);
    }
    isBusy = false;
  }

  return (item) =>
    new Promise((resolve, reject) => {
      waiting.push({ item, resolve, reject });
      if (!isBusy) void work();
    });
}
