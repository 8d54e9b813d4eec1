export { toCanonicalJson } from "./canonical-json.js";
export { type ComparedSuite, compareSuites, isSameSuite } from "./compare.js";
export { findSameWordings, partsOf, recipeOf, wordingOf } from "./prompt-parts.js";
export {
  insertPrompt,
  movePrompt,
  type RawPrompt,
  readSuiteText,
  removePrompt,
  setInSuite,
  type SuitePath,
  type SuiteText,
} from "./suite-text.js";
export { type ParsedYaml, parseYaml, type YamlIssue, writeSuiteYaml } from "./yaml.js";
