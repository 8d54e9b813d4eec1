export { differentiateOutcome, outcomeProbabilities } from "./cumulative-logit.js";
export { fitRatings, type CountRow, type FitOptions, type RatingFit } from "./fit-ratings.js";
export { median } from "./median.js";
export {
  BASE_RATING,
  countBallots,
  POINTS_PER_LOGIT,
  rateBallots,
  RATING_METHOD_VERSION,
  type RatedEntrant,
  type Ratings,
} from "./rate-ballots.js";
export { type BallotColumns, estimateCovariances, standardError, widestStandardError } from "./uncertainty.js";
