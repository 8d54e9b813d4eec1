export { type CellTally, type CompetitorFigures, summarizeCells } from "./cell-tally.js";
export { choosePrompts, countBasis, judgeBallots, MARKS, prepareBasis, type PreparedBasis } from "./count-basis.js";
export {
  type Competitor,
  type Counted,
  describePrompts,
  describeStandings,
  findSuccession,
  type Rated,
  type RatedByPrompt,
  type RatedPrompt,
} from "./describe-standings.js";
export { type MendingTally, type RoundFacts, sumMending, tallyMending } from "./mending.js";
export { compareCounted, type CountedBallots, compareRows } from "./compare-counted.js";
export { type BasisInColumns, joinBasis, splitBasis } from "./parted-basis.js";
export { rateBySeeing, type SeenBallots } from "./rate-by-seeing.js";
export { rateOverTime } from "./rate-over-time.js";
export { findHeadToHead, type HeadToHead } from "./head-to-head.js";
