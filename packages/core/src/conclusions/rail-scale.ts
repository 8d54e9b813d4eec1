import type { Standing } from "../contract/index.js";

export interface RailScale {
  min: number;
  max: number;
  ticks: number[];
  /** Position of a rating along the rail, in per cent. */
  toPercent: (rating: number) => number;
}

const STEPS = [25, 50, 100, 200, 500, 1000, 2000];
const MOST_TICKS = 7;

/** The rail's scale: wide enough for every interval, with round ticks. */
export function scaleRail(rows: readonly Pick<Standing, "rating" | "halfWidth">[]): RailScale {
  const ends = rows.flatMap(({ rating, halfWidth }) =>
    rating === null ? [] : [rating - (halfWidth ?? 0), rating + (halfWidth ?? 0)],
  );
  const low = Math.min(...ends, 1450);
  const high = Math.max(...ends, 1550);
  const step = STEPS.find((size) => (high - low) / size <= MOST_TICKS - 1) ?? 5000;
  const min = Math.floor(low / step) * step;
  const max = Math.ceil(high / step) * step;
  const ticks = Array.from({ length: Math.round((max - min) / step) + 1 }, (_, i) => min + i * step);
  return { min, max, ticks, toPercent: (rating) => ((rating - min) / (max - min)) * 100 };
}
