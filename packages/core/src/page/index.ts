export { listNeeds } from "./needs.js";
export { BLANK_CONTENT_SHARE } from "./thresholds.js";
export { describeControls, judgeControls } from "./controls.js";
export { RULE_WORDS, type RuleWords } from "./rules.js";
export { describeInput } from "./dead-controls.js";
export { findFindings } from "./findings.js";
export { chooseControlClips, isJudged, judgeStep, type StepEvidence } from "./effects.js";
export type { AccessibilityIssue, Layout, Observed } from "./observed.js";
