import { createHash } from "node:crypto";
import { mkdirSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import type { Rules } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { type Extraction, extractArtifact, type KnownName } from "@tourney/core/extraction";
import { readJson, readText } from "./files.js";

export interface ExtractFlags {
  stopReason?: string;
  rules?: string;
  names?: string;
  out?: string;
  json?: boolean;
}

/** Takes the artifact out of an answer in one or several files. Exit code 0 for `ok`, 2 for any other verdict. */
export async function extract(paths: readonly string[], flags: ExtractFlags): Promise<void> {
  const found = extractArtifact(paths.map(readText), {
    stopReason: flags.stopReason ?? null,
    ...(flags.rules === undefined ? {} : { rules: await readRules(flags.rules) }),
    ...(flags.names === undefined ? {} : { names: readNames(flags.names) }),
  });
  const files = found.files.map(({ path, text, from }) => {
    const bytes = Buffer.from(text, "utf8");
    if (flags.out !== undefined) {
      const target = join(flags.out, path);
      mkdirSync(dirname(target), { recursive: true });
      writeFileSync(target, bytes);
    }
    return { path, bytes: bytes.length, sha256: createHash("sha256").update(bytes).digest("hex"), from };
  });
  const { verdict, kind, entry, missing, remote, ruleBreaks, leaks, trace } = found;
  if (flags.json) {
    console.log(JSON.stringify({ verdict, kind, entry, files, missing, remote, ruleBreaks, leaks, trace }));
  } else {
    console.log(`${verdict}${entry === null ? "" : `: ${kind}, ${entry}`}`);
    for (const { path, bytes } of files) console.log(`  ${path}  ${bytes} bytes`);
    sayFacts(found);
    for (const { part, action, why } of trace) console.log(`  ${action} ${part}: ${why}`);
  }
  process.exitCode = verdict === "ok" ? 0 : 2;
}

function sayFacts({ missing, remote, ruleBreaks, leaks }: Extraction): void {
  for (const { kind, path, file } of missing) console.log(`  missing ${kind} ${path}, asked for by ${file}`);
  for (const { url, library, version } of remote)
    console.log(
      `  remote ${url}${library === null ? "" : ` (${[library, version].filter((part) => part !== null).join(" ")})`}`,
    );
  for (const { rule, message, file } of ruleBreaks) console.log(`  breaks ${rule}: ${message} (${file})`);
  for (const { text, where, file, confidence } of leaks)
    console.log(`  names "${text}" in ${where} of ${file}, confidence ${confidence}`);
}

/** A prompt's rules as a suite file writes them; the schema is loaded only when it is needed, to keep the verb quick. */
async function readRules(path: string): Promise<Rules> {
  const contract = await import("@tourney/core/contract");
  const parsed = contract.Rules.safeParse(readJson(path, "Correct it, or leave the option out."));
  if (parsed.success) return parsed.data;
  throw new TourneyError("INVALID_FILE", {
    message: `${path} does not hold a prompt's rules.`,
    reason: parsed.error.issues.map((issue) => `${issue.path.join(".") || "the whole"}: ${issue.message}`).join("; "),
    remedy: 'Write them as in a suite file, for example {"singleFile": true, "libraries": "forbidden"}.',
  });
}

/** Names to look for: a list of texts, of {name, aliases, maker, model}, or such a list under `names` or `entrants`. */
function readNames(path: string): KnownName[] {
  const value = readJson(path, "Correct it, or leave the option out.");
  const list = Array.isArray(value)
    ? value
    : isRecord(value)
      ? (["names", "entrants"].map((key) => value[key]).find(Array.isArray) ??
        Object.entries(value).flatMap(([name, aliases]) => (Array.isArray(aliases) ? [{ name, aliases }] : [])))
      : null;
  const names = (list ?? []).flatMap((item: unknown): KnownName[] => {
    if (typeof item === "string") return [{ name: item, aliases: [] }];
    if (!isRecord(item) || typeof item["name"] !== "string") return [];
    const aliases = [item["aliases"], item["model"], item["key"]].flat().filter((alias) => typeof alias === "string");
    const makers = [item["maker"]].flat().filter((maker) => typeof maker === "string" && maker !== "");
    return [{ name: item["name"], aliases }, ...makers.map((maker) => ({ name: maker as string, aliases: [] }))];
  });
  if (names.length > 0 || (Array.isArray(value) && value.length === 0)) return names;
  throw new TourneyError("INVALID_FILE", {
    message: `${path} holds no names.`,
    reason: "Names are a JSON list of texts, or of objects with a name and aliases.",
    remedy: 'Write, for example, [{"name": "Marram Large", "aliases": ["marram-large"], "maker": "Dune Works"}].',
  });
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null;
