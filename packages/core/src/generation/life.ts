import type { GenerationState } from "../contract/index.js";

/** What can happen to a generation. */
export type GenerationEvent =
  /** The turn before it was answered with something to go on from. */
  | "released"
  /** The turn before it ended for good without anything to go on from. */
  | "unreachable"
  /** Its endpoint and its run's budget have room. */
  | "admitted"
  /** Its run was paused before it was sent. */
  | "recalled"
  /** A process sends it. */
  | "sent"
  | "answered"
  /** It failed and is tried again later. */
  | "postponed"
  /** It failed for good. */
  | "failed"
  /** Our own side could not go on with it, the same way several times. */
  | "abandoned"
  /** The budget does not cover it. */
  | "held"
  | "cancelled"
  /** The lead asks for it once more, or raised the budget. */
  | "requeued"
  /** As `requeued`, while the turn before it has no answer. */
  | "requeued to wait"
  /** An answer by hand takes its place. */
  | "answered by hand";

/**
 * The life of a generation: in each state, where each event leads. What is not listed does not happen there. This is the only place that
 * knows; SQL that writes the state takes its conditions from `statesBefore`.
 */
const LIFE: Readonly<Record<GenerationState, Partial<Record<GenerationEvent, GenerationState>>>> = {
  waiting: { released: "queued", unreachable: "cancelled", held: "held", cancelled: "cancelled" },
  queued: { admitted: "admitted", held: "held", cancelled: "cancelled" },
  admitted: { sent: "running", recalled: "queued", abandoned: "failed", cancelled: "cancelled" },
  // A process that died leaves it running: it is sent again from there. What is being sent is let finish.
  running: { sent: "running", answered: "answered", postponed: "queued", failed: "failed", abandoned: "failed" },
  answered: {},
  failed: { requeued: "queued", "requeued to wait": "waiting", "answered by hand": "answered" },
  cancelled: { requeued: "queued", "requeued to wait": "waiting", "answered by hand": "answered" },
  held: {
    requeued: "queued",
    "requeued to wait": "waiting",
    cancelled: "cancelled",
    unreachable: "cancelled",
    "answered by hand": "answered",
  },
};

/** Every state, in the order of a life without mishap. */
export const GENERATION_STATES = Object.keys(LIFE) as GenerationState[];

/** The state after an event, or null where the event does not happen. */
export const nextGenerationState = (state: GenerationState, event: GenerationEvent): GenerationState | null =>
  LIFE[state][event] ?? null;

/** The states in which an event can happen. */
export const statesBefore = (event: GenerationEvent): GenerationState[] =>
  GENERATION_STATES.filter((state) => nextGenerationState(state, event) !== null);

/** The state that an event leads to, which is one and the same wherever it can happen. */
export function stateAfter(event: GenerationEvent): GenerationState {
  const [state] = statesBefore(event);
  return nextGenerationState(state!, event)!;
}

const statesWhere = (is: (state: GenerationState) => boolean): readonly GenerationState[] =>
  GENERATION_STATES.filter(is);

/** Those that a process or an endpoint works on, or soon will by itself. */
export const IN_FLIGHT = statesWhere((state) => ["waiting", "queued", "admitted", "running"].includes(state));
/** Those that hold one of an endpoint's places. */
export const AT_ENDPOINT = statesWhere((state) => nextGenerationState(state, "sent") !== null);
/** Those of which nothing was kept: a plan may take them over. */
export const REPLANNABLE = statesWhere((state) => state === "cancelled" || state === "held");
