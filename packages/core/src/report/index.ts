export { judgePrompts, type ReportInput, renderReport } from "./render-report.js";
export type { ReportPrompt, ReportStrip } from "./render-shown.js";
