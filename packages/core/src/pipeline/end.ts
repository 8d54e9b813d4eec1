import type { PipelineEnd } from "../contract/index.js";

/** How far the places of a run have come. */
export interface ScopeProgress {
  total: number;
  /** Waiting, queued or being sent. */
  underWay: number;
  running: number;
  answered: number;
  failed: number;
  /** Not sent, because the budget does not cover them. */
  held: number;
  /** Answered, and their page not yet taken out. */
  extracting: number;
  /** Recordings that are still to be made. */
  toRecord: number;
  /** Models that are left alone at their endpoint for now, because they failed there in a row. */
  paused: number;
}

/** Whether nothing more will happen by itself. */
export const isSettled = ({ underWay, extracting, toRecord }: ScopeProgress): boolean =>
  underWay + extracting + toRecord === 0;

/** Whether something is to be sent and nothing is being sent: its endpoint does not answer, or asks to be left alone for now. */
export const isStuck = ({ underWay, running }: ScopeProgress): boolean => underWay > 0 && running === 0;

/** How a run that came to rest ended. What comes first explains the rest: what was not sent cannot pass a bar. */
export function findEnd(
  { held, failed }: Pick<ScopeProgress, "held" | "failed">,
  { wasStuck, areBarsMet }: { wasStuck: boolean; areBarsMet: boolean },
): PipelineEnd {
  if (held > 0) return "spent";
  if (wasStuck || failed > 0) return "endpoint_down";
  return areBarsMet ? "finished" : "below_the_bar";
}
