import { joinAnswers } from "./answer-text.js";

export { findAdmissions } from "./admissions.js";
export { type ExtractedFile } from "./assemble.js";
export { type Extraction, type ExtractionOptions, extractArtifact, findFacts, LIMITS } from "./extract.js";
export { findShownLeaks, type KnownName } from "./leaks.js";

/** The whole answer that the parts of a continued one make, joined as a person would. */
export const joinParts = (parts: readonly string[]): string => joinAnswers(parts, []);
export { languageOf, listReferences, type Reference, resolvePath } from "./references.js";
