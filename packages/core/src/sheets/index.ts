export { countAgreement, type PairOutcome } from "./agreement.js";
export { listEvidence } from "./evidence.js";
export { isFirstShot, type SheetTally, tallyBy, tallySheets } from "./tally.js";
