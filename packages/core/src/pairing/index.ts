export { BoutTally } from "./bout-tally.js";
export {
  chooseBout,
  type ChosenBout,
  type Knowledge,
  type OwnBout,
  PAIRING_RULES,
  type PairingRules,
  type Situation,
} from "./choose-bout.js";
export { type Candidate, Exhibition } from "./exhibition.js";
export { AS_IT_STANDS, mayMeet, nameSide, readSide } from "./forms.js";
export { Teacher } from "./teaching.js";
