/**
 * Which entrants hang together: two are joined when they met at least once, whoever won.
 *
 * @param size number of entrants.
 * @param left one of each two that met, 0-based; the other stands in `right`.
 * @returns per entrant the 0-based number of its component, numbered by their lowest member; −1 for one without a meeting.
 */
export function findComponents(size: number, left: ArrayLike<number>, right: ArrayLike<number>): Int32Array {
  const parent = Int32Array.from({ length: size }, (_, i) => i);
  const hasMet = new Uint8Array(size);
  const root = (i: number): number => {
    let node = i;
    while (parent[node] !== node) {
      parent[node] = parent[parent[node]!]!;
      node = parent[node]!;
    }
    return node;
  };
  for (let row = 0; row < left.length; row++) {
    hasMet[left[row]!] = hasMet[right[row]!] = 1;
    const a = root(left[row]!);
    const b = root(right[row]!);
    if (a !== b) parent[Math.max(a, b)] = Math.min(a, b);
  }
  const numbers = new Map<number, number>();
  return Int32Array.from({ length: size }, (_, i) => {
    if (!hasMet[i]) return -1;
    const top = root(i);
    if (!numbers.has(top)) numbers.set(top, numbers.size);
    return numbers.get(top)!;
  });
}
