export { chooseBout, type Candidate, type ChosenBout, type PastBout } from "./choose-bout.js";
