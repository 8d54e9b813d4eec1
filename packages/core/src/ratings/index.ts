export { measureAgreement, type PromptAgreement } from "./agreement.js";
export {
  type BallotColumns,
  checkCounts,
  type ClusterCounts,
  countBallots,
  type CountColumns,
  orderBallots,
  orderBy,
  pickBallots,
  sortBallots,
} from "./ballots.js";
export { rateCategories } from "./category-board.js";
export { type CategoryCounts, type CategoryFit, type CategoryOptions, fitCategories } from "./category-ratings.js";
export { differentiateOutcome, drawOutcome, outcomeProbabilities, thresholdValue } from "./cumulative-logit.js";
export { type Circle, expectShare, findCircles, type Meeting } from "./expected-share.js";
export type { FitOptions } from "./fit-problem.js";
export { fitRatings, type RatingFit } from "./fit-ratings.js";
export { numberAll } from "./number-all.js";
export { makeNumbers, type Numbers, pickNumbers } from "./numbers.js";
export { type EloBallot, type EloOptions, playOnlineElo } from "./online-elo.js";
export { measureAlpha } from "./ordinal-alpha.js";
export { findBrackets, rankEntrants, rankRanges, rejectByBonferroni, rejectByHolm, type PairTest } from "./ranks.js";
export { type PromptRating, ratePrompts, ratePromptsInSteps } from "./prompt-ratings.js";
export {
  BASE_RATING,
  type Pair,
  POINTS_PER_LOGIT,
  PRODUCT_OPTIONS,
  rateBallots,
  type RatedBallots,
  rateSorted,
  RATING_METHOD_VERSION,
  type RatedEntrant,
  type Ratings,
} from "./rate-ballots.js";
export { type Covariances, estimateCovariances, slotError, standardError, widestStandardError } from "./uncertainty.js";
export {
  diagnoseInSteps,
  diagnoseVoters,
  type PanelDiagnostics,
  signTest,
  type VoterDiagnostics,
  wilsonInterval,
} from "./voter-diagnostics.js";
export { SquareMatrix } from "./square-matrix.js";
