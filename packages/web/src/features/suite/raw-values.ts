/** Reading values of a suite file that may be anything, since it is being written. */

export const asText = (value: unknown): string =>
  typeof value === "string" ? value : typeof value === "number" || typeof value === "boolean" ? String(value) : "";

export const asList = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

export const asRecord = (value: unknown): Readonly<Record<string, unknown>> =>
  typeof value === "object" && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {};

/** What a field says as a number where it is one; otherwise as it is, so that the check names it. */
export const toNumber = (text: string): number | string | undefined => {
  const trimmed = text.trim();
  if (trimmed === "") return undefined;
  return Number.isFinite(Number(trimmed)) ? Number(trimmed) : trimmed;
};

/** Names separated by commas; nothing at all where there is none. */
export const toNames = (text: string): string[] | undefined => {
  const names = text
    .split(",")
    .map((name) => name.trim())
    .filter((name) => name !== "");
  return names.length === 0 ? undefined : names;
};

/** Sizes as in "390 × 844, 768x1024". What is no size is kept as it stands, so that the check names it. */
export const toViewports = (text: string): unknown[] | undefined =>
  toNames(text)?.map((name) => {
    const found = /^(\d+)\s*[x×]\s*(\d+)$/i.exec(name);
    return found ? { width: Number(found[1]), height: Number(found[2]) } : name;
  });

export const formatViewports = (value: unknown): string =>
  asList(value)
    .map((item) => {
      const { width, height } = asRecord(item);
      return width === undefined ? asText(item) : `${asText(width)} × ${asText(height)}`;
    })
    .join(", ");
