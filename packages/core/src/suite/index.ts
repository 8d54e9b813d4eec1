export { toCanonicalJson } from "./canonical-json.js";
