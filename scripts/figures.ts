import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/** 0 … count − 1. */
export const range = (count: number): number[] => Array.from({ length: count }, (_, i) => i);

/** The arithmetic mean; NaN for none. */
export const mean = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;

/** To so many digits after the point. */
export const round = (value: number, digits = 0): number => Number(value.toFixed(digits));

/** Puts lines between the marks of that name in docs/validation.md. */
export function writeBetween(mark: string, lines: readonly string[]): void {
  const path = join(import.meta.dirname, "..", "docs", "validation.md");
  const [start, end] = [`<!-- ${mark} -->`, `<!-- /${mark} -->`];
  const text = readFileSync(path, "utf8");
  const [from, to] = [text.indexOf(start) + start.length, text.indexOf(end)];
  if (from < start.length || to < from) throw new Error(`${path} has no place for ${mark}`);
  writeFileSync(path, `${text.slice(0, from)}\n\n${lines.join("\n")}\n\n${text.slice(to)}`);
}
