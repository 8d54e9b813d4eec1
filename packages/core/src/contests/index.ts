export { type ContestBallot, describeForms } from "./forms-contest.js";
export { ratePages } from "./pages-contest.js";
export { placeNewcomer } from "./place-newcomer.js";
export { type Between, describeTakes, type PairMoments } from "./takes-contest.js";
