export { lookInSteps, lookingAlpha, planLooks } from "./take-looks.js";
