export { changedShare, contentShare, type Pixels } from "./pixels.js";
