/** Whatever keeps its last result, so that all can let go. */
const keepers = new Set<{ letGo: () => void }>();
let underWay = 0;

/** Lets what is read of one text again and again be read once for all that is done within. */
export function keepingReadings<T>(work: () => T): T {
  underWay++;
  try {
    return work();
  } finally {
    underWay--;
    if (underWay === 0) for (const keeper of keepers) keeper.letGo();
  }
}

/** The same function of a text, which reads the last text no second time while something is under way. What it returns is not the caller's to change. */
export function keepLast<T>(read: (text: string) => T): (text: string) => T {
  let last: { text: string; value: T } | null = null;
  keepers.add({ letGo: () => (last = null) });
  return (text) => {
    if (last?.text === text) return last.value;
    const value = read(text);
    if (underWay > 0) last = { text, value };
    return value;
  };
}
