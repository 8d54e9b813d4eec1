export { type Bar, findFailing, MEASURES, readBar } from "./bar.js";
export { findEnd, isSettled, isStuck, type ScopeProgress } from "./end.js";
