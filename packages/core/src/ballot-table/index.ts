export { BALLOT_COLUMNS, BallotTable } from "./ballot-table.js";
export { rateTable } from "./rate-table.js";
