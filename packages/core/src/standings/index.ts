export { type CellTally, type CompetitorFigures, summarizeCells } from "./cell-tally.js";
export { countBasis, judgeBallots, MARKS, prepareBasis, type PreparedBasis } from "./count-basis.js";
export {
  type BallotCounts,
  type Competitor,
  type Counted,
  describePrompts,
  describeStandings,
  type Rated,
} from "./describe-standings.js";
