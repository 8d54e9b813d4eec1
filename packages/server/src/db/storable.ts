/** What PostgreSQL's text and jsonb cannot hold is shown as the replacement character, as browsers do. */
const REPLACEMENT = "\ufffd";

/** Text as PostgreSQL can store it: no NUL, and no half of a surrogate pair. */
export function toStorableText(text: string): string {
  const wellFormed = isWellFormed(text) ? text : toWellFormed(text);
  return wellFormed.includes("\0") ? wellFormed.replaceAll("\0", REPLACEMENT) : wellFormed;
}

// Node 20 has both methods; the compiler's library for it has not.
interface WellFormed {
  isWellFormed: () => boolean;
  toWellFormed: () => string;
}
const isWellFormed = (text: string) => (text as unknown as WellFormed).isWellFormed();
const toWellFormed = (text: string) => (text as unknown as WellFormed).toWellFormed();

/**
 * A JSON value as PostgreSQL can store it and our schemas can read it back: texts and names of members as above, whole numbers within what
 * a JavaScript number holds exactly. What JSON has no word for (NaN, infinity) becomes null, as JSON.stringify has it.
 */
export function toStorable(value: unknown): unknown {
  if (typeof value === "string") return toStorableText(value);
  if (typeof value === "number") return clampNumber(value);
  if (Array.isArray(value)) return value.map(toStorable);
  if (typeof value !== "object" || value === null) return value;
  if (value instanceof Date) return value;
  return Object.fromEntries(Object.entries(value).map(([key, member]) => [toStorableText(key), toStorable(member)]));
}

function clampNumber(value: number): number | null {
  if (!Number.isFinite(value)) return null;
  return Math.min(Number.MAX_SAFE_INTEGER, Math.max(Number.MIN_SAFE_INTEGER, value));
}

/** The one way from a value to the text of a json or jsonb parameter. Null and undefined are SQL's NULL. */
export const toJson = (value: unknown): string | null =>
  value === null || value === undefined ? null : JSON.stringify(toStorable(value));

/** A bound parameter of a statement: texts made storable, everything else as it is. */
export function toStorableParameter(value: unknown): unknown {
  if (typeof value === "string") return toStorableText(value);
  return Array.isArray(value) ? value.map(toStorableParameter) : value;
}
