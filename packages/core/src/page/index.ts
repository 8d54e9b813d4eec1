export { findFindings, type Observed } from "./findings.js";
