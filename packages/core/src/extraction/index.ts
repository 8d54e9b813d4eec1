export { type ExtractedFile } from "./assemble.js";
export { type Extraction, type ExtractionOptions, extractArtifact, LIMITS } from "./extract.js";
export { type KnownName } from "./leaks.js";
