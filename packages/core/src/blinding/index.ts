export { blankNames, LETTER_DOT } from "./blank-names.js";
export { createNameFinder, type FindNames, type HiddenNames } from "./find-names.js";
export { DOTS, hashNames } from "./hide-names.js";
