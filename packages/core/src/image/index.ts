export { changedShare, contentShare, differsOutside, isOfOneSize, type Part, type Pixels } from "./pixels.js";
