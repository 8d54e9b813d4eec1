export { describeDemoProgress } from "./demo-progress.js";
