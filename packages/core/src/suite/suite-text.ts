import { isMap, isNode, isScalar, isSeq, type Node, type YAMLMap } from "yaml";
import { SuiteDefinition } from "../contract/index.js";
import { checkYaml, type ParsedYaml, readYaml, type YamlReading } from "./yaml.js";

/** A place in a suite file, as in ["prompts", 3, "title"]. */
export type SuitePath = readonly (string | number)[];

/** One prompt of a suite file as it stands there, right or wrong. */
export interface RawPrompt {
  index: number;
  /** 1-based line at which it begins. */
  line: number;
  value: Readonly<Record<string, unknown>>;
}

/** What an editor needs of a text: whether it is a suite, and its prompts even while it is none. */
export interface SuiteText {
  parsed: ParsedYaml<SuiteDefinition>;
  prompts: RawPrompt[];
}

/** Reads the text of a suite file that may be half written. Never throws. */
export function readSuiteText(text: string): SuiteText {
  const reading = readYaml(text);
  const parsed = checkYaml(SuiteDefinition, reading);
  return { parsed, prompts: !parsed.ok && parsed.why !== "content" ? [] : listPrompts(reading) };
}

function listPrompts({ document, lines }: YamlReading): RawPrompt[] {
  const prompts: unknown = document.get("prompts");
  if (!isSeq(prompts)) return [];
  return prompts.items.flatMap((item, index) => {
    if (!isMap(item) || !item.range) return [];
    const value = item.toJS(document) as Record<string, unknown>;
    return [{ index, line: lines.linePos(item.range[0]).line, value }];
  });
}

/** Members of a prompt in the order in which a file has them; one that is added takes its place among them. */
const MEMBERS = [
  "key",
  "title",
  "kind",
  "summary",
  "variantOf",
  "tags",
  "text",
  "turns",
  "stages",
  "starterFiles",
  "rules",
  "viewport",
  "furtherViewports",
  "seconds",
  "motion",
  "walkthrough",
  "watchpoints",
];

/**
 * The text with one change made; comments, order and quotes stay, only spaces within brackets are evened out. Null when it is not YAML,
 * or when the change finds its place missing and returns false.
 */
function changeText(text: string, change: (document: YamlReading["document"]) => boolean): string | null {
  const { document } = readYaml(text);
  if (document.errors.length > 0 || document.contents === null || !change(document)) return null;
  return document.toString({ lineWidth: 0, blockQuote: "literal" });
}

/**
 * Sets a member of a suite file, or takes it out where the value is undefined.
 * @returns the new text, or null when the text is not YAML or the place is not there.
 */
export const setInSuite = (text: string, path: SuitePath, value: unknown): string | null =>
  changeText(text, (document) => {
    const name = path.at(-1)!;
    const parent: unknown = document.getIn(path.slice(0, -1), true);
    if (!isMap(parent) && !isSeq(parent)) return false;
    if (value === undefined) {
      parent.delete(name);
      return true;
    }
    const node = document.createNode(value);
    const before = parent.get(name, true);
    if (isNode(before)) keepComments(before, node);
    if (isMap(parent) && !parent.has(name)) insertMember(parent, String(name), document.createPair(name, node));
    else parent.set(name, node);
    return true;
  });

/** A line of remark belongs to the place, not to what stood there. */
function keepComments(before: Node, after: Node): void {
  if (before.commentBefore != null) after.commentBefore = before.commentBefore;
  if (before.comment != null && isScalar(after)) after.comment = before.comment;
  if (before.spaceBefore === true) after.spaceBefore = true;
}

function insertMember(map: YAMLMap, name: string, pair: YAMLMap["items"][number]): void {
  const rank = MEMBERS.indexOf(name);
  const at = map.items.findIndex(({ key }) => isScalar(key) && MEMBERS.indexOf(String(key.value)) > rank);
  if (rank === -1 || at === -1) map.items.push(pair);
  else map.items.splice(at, 0, pair);
}

/** Puts a prompt into a suite file, at the given place. Null when the text has no list of prompts. */
export const insertPrompt = (text: string, index: number, prompt: Readonly<Record<string, unknown>>): string | null =>
  changePrompts(text, (items, createNode) => {
    const node = createNode(prompt);
    node.spaceBefore = index > 0;
    items.splice(index, 0, node);
  });

/** Takes a prompt out of a suite file. */
export const removePrompt = (text: string, index: number): string | null =>
  changePrompts(text, (items) => void items.splice(index, 1));

/** Moves a prompt to another place of the suite's order. */
export const movePrompt = (text: string, from: number, to: number): string | null =>
  changePrompts(text, (items) => {
    const [moved] = items.splice(from, 1);
    if (moved !== undefined) items.splice(to, 0, moved);
    items.forEach((item, index) => {
      if (isNode(item)) item.spaceBefore = index > 0;
    });
  });

const changePrompts = (
  text: string,
  change: (items: unknown[], createNode: (value: unknown) => Node) => void,
): string | null =>
  changeText(text, (document) => {
    const prompts: unknown = document.get("prompts");
    if (!isSeq(prompts)) return false;
    change(prompts.items, (value) => document.createNode(value));
    return true;
  });
