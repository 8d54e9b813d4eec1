export { defuse, EXPORT_COLUMNS, type ExportedBallot, keyOfVersion, toCells } from "./ballot-lines.js";
export { STANDINGS_COLUMNS, toStandingsCells } from "./standings-lines.js";
