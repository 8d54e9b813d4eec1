import type { FoundAnswers } from "./read-answers.js";

/** A file may have a hundred thousand lines that are no answers; nobody reads what is wrong with each. */
const MOST_TOLD = 200;

/** The first of what was refused, and how many more there are. */
export function tellFirst(refused: FoundAnswers["refused"]): FoundAnswers["refused"] {
  const more = refused.length - MOST_TOLD;
  if (more <= 0) return refused;
  return [...refused.slice(0, MOST_TOLD), { source: `${more} more`, why: "they are refused, too; mend these first" }];
}
