export { median } from "./median.js";
