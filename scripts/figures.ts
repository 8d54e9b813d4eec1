/** 0 … count − 1. */
export const range = (count: number): number[] => Array.from({ length: count }, (_, i) => i);

/** The arithmetic mean; NaN for none. */
export const mean = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value, 0) / values.length;
