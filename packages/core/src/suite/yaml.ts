import { Document, isNode, isScalar, isSeq, LineCounter, parseDocument, type Scalar, visit } from "yaml";
import type * as z from "zod";
import {
  type InputIssue,
  listIssues,
  MOST_YAML_LENGTH,
  type PromptDefinition,
  type SuiteDefinition,
  YAML_TOO_LONG,
} from "../contract/index.js";

/** A few lines of YAML can stand for gigabytes by repeating aliases. */
const MOST_ALIASES = 20;

export interface YamlIssue extends InputIssue {
  /** 1-based line of what is wrong, or of its nearest parent that is there; null when there is none. */
  line: number | null;
}

export type ParsedYaml<T> =
  | { ok: true; value: T }
  /** `size` for what is too long to be read, `syntax` for what is not YAML, `aliases` for one that unfolds too far, `content` for what does not match the schema. */
  | { ok: false; why: "size" | "syntax" | "aliases" | "content"; issues: YamlIssue[] };

/** A text read as YAML, before any schema: kept so that one reading serves several questions. */
export interface YamlReading {
  document: ReturnType<typeof parseDocument>;
  lines: LineCounter;
  /** It was not read: the document is empty. */
  isTooLong: boolean;
}

export function readYaml(text: string): YamlReading {
  const lines = new LineCounter();
  const isTooLong = text.length > MOST_YAML_LENGTH;
  // The library holds each key against all others of its map: a file of many keys would take minutes. They are looked at in `findRepeated`.
  const document = parseDocument(isTooLong ? "" : text, { lineCounter: lines, uniqueKeys: false });
  return { document, lines, isTooLong };
}

/** The first key that a map has twice, or null. */
function findRepeated(document: YamlReading["document"]): Scalar | null {
  let repeated: Scalar | null = null;
  visit(document, {
    Map(_, { items }) {
      const seen = new Set<unknown>();
      for (const { key } of items) {
        if (!isScalar(key)) continue;
        if (seen.has(key.value)) {
          repeated = key;
          return visit.BREAK;
        }
        seen.add(key.value);
      }
      return undefined;
    },
  });
  return repeated;
}

/** Reads a YAML text by a schema; every issue is given with its line. Never throws. */
export const parseYaml = <Schema extends z.ZodType>(schema: Schema, text: string): ParsedYaml<z.output<Schema>> =>
  checkYaml(schema, readYaml(text));

/** Checks what has been read by a schema; every issue is given with its line. Never throws. */
export function checkYaml<Schema extends z.ZodType>(
  schema: Schema,
  { document, lines, isTooLong }: YamlReading,
): ParsedYaml<z.output<Schema>> {
  if (isTooLong) return { ok: false, why: "size", issues: [{ path: "", message: YAML_TOO_LONG, line: null }] };
  const syntax = document.errors[0];
  if (syntax) {
    const line = syntax.linePos?.[0].line ?? null;
    return { ok: false, why: "syntax", issues: [{ path: "", message: syntax.message.split("\n")[0]!, line }] };
  }
  const repeated = findRepeated(document);
  if (repeated !== null) {
    const line = repeated.range ? lines.linePos(repeated.range[0]).line : null;
    return {
      ok: false,
      why: "syntax",
      issues: [{ path: "", message: `"${String(repeated.value)}" is there twice`, line }],
    };
  }
  let value: unknown;
  try {
    value = document.toJS({ maxAliasCount: MOST_ALIASES });
  } catch {
    return { ok: false, why: "aliases", issues: [{ path: "", message: "it uses too many aliases", line: null }] };
  }
  const parsed = schema.safeParse(value);
  if (parsed.success) return { ok: true, value: parsed.data };
  const issues = listIssues(parsed.error).map((issue) => ({ ...issue, line: findLine(document, lines, issue.path) }));
  return { ok: false, why: "content", issues };
}

function findLine(document: ReturnType<typeof parseDocument>, lines: LineCounter, path: string): number | null {
  const keys = path.split(".").filter((key) => key !== "");
  for (let depth = keys.length; depth >= 0; depth--) {
    const place = keys.slice(0, depth).map((key) => (/^\d+$/.test(key) ? Number(key) : key));
    const node: unknown = depth === 0 ? document.contents : document.getIn(place, true);
    if (isNode(node) && node.range) return lines.linePos(node.range[0]).line;
  }
  return null;
}

const DEFAULT_VIEWPORT = { width: 1280, height: 800 };

/** A prompt's members in the order in which a file has them, without those that say what holds anyway. */
function toFilePrompt(prompt: PromptDefinition): Record<string, unknown> {
  const { rules, viewport } = prompt;
  const ownRules = {
    ...(rules.singleFile ? {} : { singleFile: false }),
    ...(rules.libraries === "forbidden" ? {} : { libraries: rules.libraries }),
    ...(rules.framework === "allowed" ? {} : { framework: rules.framework }),
    ...(rules.language === undefined ? {} : { language: rules.language }),
  };
  const isUsualViewport = viewport.width === DEFAULT_VIEWPORT.width && viewport.height === DEFAULT_VIEWPORT.height;
  return {
    key: prompt.key,
    title: prompt.title,
    kind: prompt.kind,
    summary: prompt.summary,
    ...(prompt.variantOf === undefined ? {} : { variantOf: prompt.variantOf }),
    ...(prompt.tags.length > 0 ? { tags: prompt.tags } : {}),
    text: prompt.text,
    ...(prompt.turns.length > 0 ? { turns: prompt.turns } : {}),
    ...(prompt.starterFiles.length > 0 ? { starterFiles: prompt.starterFiles } : {}),
    ...(Object.keys(ownRules).length > 0 ? { rules: ownRules } : {}),
    ...(isUsualViewport ? {} : { viewport }),
    ...(prompt.furtherViewports.length > 0 ? { furtherViewports: prompt.furtherViewports } : {}),
    ...(prompt.seconds === 6 ? {} : { seconds: prompt.seconds }),
    motion: prompt.motion,
    ...(prompt.walkthrough.length > 0 ? { walkthrough: prompt.walkthrough.map(toFileStep) } : {}),
    watchpoints: prompt.watchpoints,
  };
}

/** Steps are short: a key that is only pressed says nothing of how long it is held. */
function toFileStep(step: PromptDefinition["walkthrough"][number]): unknown {
  if ("key" in step && step.holdMs === 0) return { atMs: step.atMs, key: step.key };
  return step;
}

/**
 * The canonical text of a suite file: one order of members, defaults left out, texts as blocks. Reading it and writing it
 * again gives the same bytes.
 */
export function writeSuiteYaml(suite: SuiteDefinition, defaultMendTemplate: string): string {
  const head = {
    format: suite.format,
    key: suite.key,
    title: suite.title,
    ...(suite.description === "" ? {} : { description: suite.description }),
    ...(suite.sample ? { sample: true } : {}),
    ...(suite.mendTemplate === defaultMendTemplate ? {} : { mendTemplate: suite.mendTemplate }),
  };
  const document = new Document({ ...head, prompts: suite.prompts.map(toFilePrompt) });
  const prompts = document.get("prompts");
  if (isSeq(prompts)) for (const item of prompts.items.slice(1)) if (isNode(item)) item.spaceBefore = true;
  return document.toString({ lineWidth: 0, blockQuote: "literal" });
}
