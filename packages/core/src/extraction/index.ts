export { extractArtifact, LIMITS, type ExtractedFile, type Extraction } from "./extract.js";
