export { computeCostUsd, findPrice } from "./cost.js";
export { type CellEstimate, type EarlierUsage, estimateCell, ESTIMATE_DEFAULTS } from "./estimate.js";
export { type AnswerPolicy, CONTINUE_TEXT, outcomeOfAnswer, outcomeOfFailure, planFollowing } from "./outcome.js";
export { composeMendText } from "./mend-text.js";
export { type AnsweredTurn, composeMessages } from "./messages.js";
export { composeRequestText } from "./request-text.js";
export { LONGEST_ASKED_WAIT_MS, parseRetryAfterMs, planRetryMs, type RetryPolicy } from "./retry.js";
export { findUnlikeness, type Unlikeness } from "./unlike.js";
export { describeSetUp } from "./set-up.js";
export {
  AT_ENDPOINT,
  GENERATION_STATES,
  type GenerationEvent,
  IN_FLIGHT,
  nextGenerationState,
  REPLANNABLE,
  stateAfter,
  statesBefore,
} from "./life.js";
