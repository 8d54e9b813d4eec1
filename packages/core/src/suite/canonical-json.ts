/**
 * The canonical JSON of a value: object keys in code-unit order, no white space, absent members left out
 * (the ordering rule of RFC 8785; numbers as ECMAScript prints them, which is the same RFC's rule).
 * Two equal values give the same text, whatever order they were written in, so that its SHA-256 is a digest of the value.
 *
 * @throws a plain Error for what JSON cannot hold (a function, NaN): a programmer's mistake.
 */
export function toCanonicalJson(value: unknown): string {
  if (value === null || typeof value === "boolean" || typeof value === "string") return JSON.stringify(value);
  if (typeof value === "number" && Number.isFinite(value)) return JSON.stringify(value);
  if (Array.isArray(value)) return `[${value.map(toCanonicalJson).join(",")}]`;
  if (typeof value === "object") {
    const members = Object.entries(value)
      .filter(([, member]) => member !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, member]) => `${JSON.stringify(key)}:${toCanonicalJson(member)}`);
    return `{${members.join(",")}}`;
  }
  throw new Error(`Not a JSON value: ${typeof value}`);
}
