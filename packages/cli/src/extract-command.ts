import { createHash } from "node:crypto";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import { extractArtifact } from "@tourney/core/extraction";

export interface ExtractFlags {
  stopReason?: string;
  out?: string;
  json?: boolean;
}

/** Takes the artifact out of an answer file. Exit code 0 for `ok`, 2 for any other verdict. */
export function extract(path: string, flags: ExtractFlags): void {
  const { verdict, kind, entry, files, trace } = extractArtifact(readAnswer(path), {
    stopReason: flags.stopReason ?? null,
  });
  const described = files.map(({ path: name, text, from }) => {
    const bytes = Buffer.from(text, "utf8");
    if (flags.out !== undefined) {
      const target = join(flags.out, name);
      mkdirSync(dirname(target), { recursive: true });
      writeFileSync(target, bytes);
    }
    return { path: name, bytes: bytes.length, sha256: createHash("sha256").update(bytes).digest("hex"), from };
  });
  if (flags.json) console.log(JSON.stringify({ verdict, kind, entry, files: described, trace }));
  else {
    console.log(`${verdict}${entry === null ? "" : `: ${kind}, ${entry}`}`);
    for (const { path: name, bytes } of described) console.log(`  ${name}  ${bytes} bytes`);
    for (const { part, action, why } of trace) console.log(`  ${action} ${part}: ${why}`);
  }
  process.exitCode = verdict === "ok" ? 0 : 2;
}

function readAnswer(path: string): string {
  try {
    return readFileSync(path, "utf8");
  } catch (cause) {
    throw new TourneyError("NOT_FOUND", {
      message: `${path} cannot be read.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give the path of a file that holds the answer's text.",
      cause,
    });
  }
}
