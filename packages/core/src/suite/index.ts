export { toCanonicalJson } from "./canonical-json.js";
export { type ComparedSuite, compareSuites, isSameSuite } from "./compare.js";
export { type InputIssue, listIssues } from "./input-issues.js";
export { type ParsedYaml, parseYaml, type YamlIssue, writeSuiteYaml } from "./yaml.js";
