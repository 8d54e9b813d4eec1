/** Stops a program once, in order, when it is told to or when the process that started it is gone; then ends it. */
export function stopOnSignals(stop: () => Promise<void>): void {
  let isStopping = false;
  const onSignal = async (): Promise<void> => {
    if (isStopping) return;
    isStopping = true;
    await stop();
    process.exit(0);
  };
  for (const signal of ["SIGINT", "SIGTERM", "disconnect"] as const) process.once(signal, () => void onSignal());
}
