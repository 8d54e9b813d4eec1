export { mean } from "./mean.js";
export { median } from "./median.js";
