export { attackByAnswers, attackByFiles, shareBody, zipOf } from "./files.js";
export { attackAsNeighbour } from "./neighbours.js";
export { attackBodies, attackOperations } from "./operations.js";
export type { Attack, Target } from "./target.js";

import type { Attack } from "./target.js";

/** Tries each in turn. @returns those that fell, with what did */
export async function tryAttacks(attacks: readonly Attack[]): Promise<{ name: string; what: string }[]> {
  const fell: { name: string; what: string }[] = [];
  for (const { name, run } of attacks) {
    const what = await run().catch((error: unknown) => `ended in ${String(error)}`);
    if (what !== null) fell.push({ name, what });
  }
  return fell;
}
