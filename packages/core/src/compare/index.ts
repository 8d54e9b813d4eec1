export { type Compared, type FigureRow, listFigures, listUnlike } from "./figures.js";
export { listNaturalPairs, MOST_COMPARED, type NaturalPair, shareWon } from "./natural-pairs.js";
export { findFrame, listTimes, stepTime } from "./clock.js";
