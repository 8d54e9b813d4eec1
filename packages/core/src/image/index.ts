export { changedShare, contentShare, differsOutside, halvePicture, isOfOneSize, type Part, type Pixels } from "./pixels.js";
