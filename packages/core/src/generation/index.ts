export { computeCostUsd } from "./cost.js";
export { composeRequestText } from "./request-text.js";
export { parseRetryAfterMs, planRetryMs, type RetryPolicy } from "./retry.js";
