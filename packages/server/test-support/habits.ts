import { ANSWERING } from "./habits/answering.js";
import { FAILING } from "./habits/failing.js";
import { OF_MESSAGES } from "./habits/of-messages.js";
import type { Habit } from "./habits/wire.js";

export type { Habit };

/** Ways in which endpoints differ from their own description, and what is right to make of each. */
export const HABITS: readonly Habit[] = [
  ...ANSWERING,
  ...FAILING,
  ...OF_MESSAGES.map((habit) => ({ ...habit, protocol: "messages" as const })),
];
