export { formatPrice, isOnFrontier, type Price, type Priced, priceEntrants, PRICES } from "./by-price.js";
export { findFirst, judgePrompt, rank, type RatedRow, THIN_BALLOTS, type Worth } from "./by-prompt.js";
export { describeDelivery, describeVersion, formatRanks, nameOfCompetitor } from "./competitor-words.js";
export { describeForecast } from "./forecast-words.js";
export { glyphColor, glyphPath } from "./glyphs.js";
export { answerInSentences } from "./answer.js";
export { BROKEN_WORDS, UNDELIVERED_WORDS } from "./rule-words.js";
export { type RailScale, scaleRail } from "./rail-scale.js";
