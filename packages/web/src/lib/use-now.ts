import { useEffect, useState } from "react";

/** The present time in milliseconds, renewed every `everyMs` so that words like "a minute ago" stay true. */
export function useNow(everyMs: number): number {
  const [nowMs, setNowMs] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNowMs(Date.now()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return nowMs;
}
