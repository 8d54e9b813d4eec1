import { readdir, readFile, stat } from "node:fs/promises";
import { basename, extname, join } from "node:path";
import { TourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";
import * as z from "zod";
import { listZip, openZip, readEntry } from "../zip.js";

/** An answer fetched by hand, as a file or a line gives it. */
export interface FoundAnswer {
  /** Where it was found, for saying what became of it. */
  source: string;
  promptKey: string;
  entrantKey: string;
  /** Null when the source does not say. */
  take: number | null;
  text: string;
}

/** Answers of a folder, a zip file or a JSONL file, and what in it cannot be one. */
export interface FoundAnswers {
  answers: FoundAnswer[];
  refused: { source: string; why: string }[];
}

const LARGEST_ANSWER = 4_000_000;
const MOST_ANSWERS = 20_000;
/** All of a zip's answers are held at once. */
const LARGEST_WHOLE = 256_000_000;
/** Text is packed to a tenth or so; what is packed to less than this is made to fill the memory. */
const MOST_RATIO = 200;
const SMALL = 100_000;
const ANSWER_FILE = /\.(?:md|txt|html|svg)$/i;

/** `…/<prompt key>/<entrant key>.md`, a take before the ending as in `marram-large.2.md`. */
function readPath(path: string): Pick<FoundAnswer, "promptKey" | "entrantKey" | "take"> | null {
  const parts = path.split("/").filter((part) => part !== "" && part !== ".");
  const match = /^(.+?)(?:\.(\d{1,3}))?\.(?:md|txt|html|svg)$/i.exec(parts.at(-1) ?? "");
  const promptKey = parts.at(-2);
  if (!match || promptKey === undefined || parts.includes("..")) return null;
  return { promptKey, entrantKey: match[1]!, take: match[2] === undefined ? null : Number(match[2]) };
}

/** Where the file of an answer belongs by its name; null for what is none, which is said. */
function placeFile(found: FoundAnswers, source: string): ReturnType<typeof readPath> {
  const place = readPath(source);
  if (place !== null) return place;
  if (ANSWER_FILE.test(source))
    found.refused.push({ source, why: "it is not laid out as <prompt key>/<entrant key>.md" });
  else if (!basename(source).startsWith("."))
    found.refused.push({ source, why: "only .md, .txt, .html and .svg files are answers" });
  return null;
}

/** Takes a file in whose bytes are only asked for when its name and size are an answer's. */
async function addFile(
  found: FoundAnswers,
  { source, size, read }: { source: string; size: number; read: () => Promise<Buffer> },
): Promise<void> {
  const place = placeFile(found, source);
  if (place === null) return;
  if (size > LARGEST_ANSWER || found.answers.length >= MOST_ANSWERS) {
    found.refused.push({ source, why: `it is larger than ${LARGEST_ANSWER / 1e6} MB, or one of too many` });
    return;
  }
  try {
    found.answers.push({ source, ...place, text: decodeText(await read(), source) });
  } catch (thrown) {
    if (!(thrown instanceof TourneyError)) throw thrown;
    found.refused.push({ source, why: thrown.message });
  }
}

const Line = z
  .looseObject({
    prompt: z.string().optional(),
    promptKey: z.string().optional(),
    entrant: z.string().optional(),
    entrantKey: z.string().optional(),
    take: z.int().min(1).max(100).optional(),
    text: z.string().optional(),
    answer: z.string().optional(),
  })
  .transform((line) => ({
    promptKey: line.promptKey ?? line.prompt,
    entrantKey: line.entrantKey ?? line.entrant,
    take: line.take ?? null,
    text: line.text ?? line.answer,
  }));

/** One answer a line: {"prompt": …, "entrant": …, "take": 1, "text": …}. */
function readJsonLines(text: string, name: string): FoundAnswers {
  const found: FoundAnswers = { answers: [], refused: [] };
  for (const [index, row] of text.split(/\r?\n/).entries()) {
    if (row.trim() === "") continue;
    const source = `${name}, line ${index + 1}`;
    try {
      const { promptKey, entrantKey, take, text: answer } = Line.parse(JSON.parse(row));
      if (promptKey === undefined || entrantKey === undefined || answer === undefined || answer === "")
        found.refused.push({ source, why: 'it lacks "prompt", "entrant" or "text"' });
      else if (answer.length > LARGEST_ANSWER)
        found.refused.push({ source, why: `it is longer than ${LARGEST_ANSWER} characters` });
      else if (found.answers.length >= MOST_ANSWERS)
        found.refused.push({ source, why: `there are ${MOST_ANSWERS} before it: give it in a file of its own` });
      else found.answers.push({ source, promptKey, entrantKey, take, text: answer });
    } catch (error) {
      found.refused.push({
        source,
        why:
          error instanceof z.ZodError
            ? `${error.issues[0]!.path.join(".")}: ${error.issues[0]!.message}`
            : "it is not JSON",
      });
    }
  }
  return found;
}

/** A zip file is hostile input: names are never used as paths, and names and sizes are looked at before anything is unpacked. */
async function readZip(zipFile: string | Buffer): Promise<FoundAnswers> {
  const found: FoundAnswers = { answers: [], refused: [] };
  const zip = await openZip(zipFile);
  let whole = 0;
  try {
    for await (const entry of listZip(zip)) {
      const { fileName: source, uncompressedSize: size, compressedSize } = entry;
      if (size > Math.max(SMALL, MOST_RATIO * compressedSize))
        found.refused.push({ source, why: `it is packed to less than a ${MOST_RATIO}th, which no answer is` });
      else if (whole + size > LARGEST_WHOLE)
        found.refused.push({
          source,
          why: `the files before it are ${LARGEST_WHOLE / 1e6} MB already: give it in a zip of its own`,
        });
      else {
        const read = () => {
          whole += size;
          return readEntry(zip, entry);
        };
        await addFile(found, { source, size, read });
      }
    }
  } finally {
    zip.close();
  }
  return found;
}

/**
 * Reads the answers of a file by its name: .zip, or .jsonl.
 *
 * @param file its path, or what is in it
 * @throws TourneyError INVALID_FILE
 */
export async function readAnswersFile(file: string | Buffer, name: string): Promise<FoundAnswers> {
  if (/\.(?:jsonl|ndjson)$/i.test(name))
    return readJsonLines(decodeText(typeof file === "string" ? await readFile(file) : file, name), name);
  try {
    return await readZip(file);
  } catch (cause) {
    throw new TourneyError("INVALID_FILE", {
      message: `${name} cannot be read as a zip file.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give a zip file laid out as <prompt key>/<entrant key>.md, or a .jsonl file. Nothing was taken.",
      cause,
    });
  }
}

/** Reads a folder laid out as <prompt key>/<entrant key>.md, a zip file, or a JSONL file. @param name of a file that lies under another */
export async function readAnswersPath(path: string, name = basename(path)): Promise<FoundAnswers> {
  const isFolder = await stat(path).then(
    (found) => found.isDirectory(),
    (cause: unknown) => {
      throw new TourneyError("NOT_FOUND", {
        message: `${path} cannot be read.`,
        reason: cause instanceof Error ? cause.message : String(cause),
        remedy: "Give a folder laid out as <prompt key>/<entrant key>.md, a zip file, or a .jsonl file.",
        cause,
      });
    },
  );
  if (!isFolder) return readAnswersFile(path, name);
  const found: FoundAnswers = { answers: [], refused: [] };
  for (const folder of (await readdir(path, { withFileTypes: true })).filter((item) => item.isDirectory())) {
    for (const file of await readdir(join(path, folder.name), { withFileTypes: true })) {
      if (!file.isFile() || extname(file.name) === "") continue;
      const own = join(path, folder.name, file.name);
      const { size } = await stat(own);
      await addFile(found, { source: `${folder.name}/${file.name}`, size, read: () => readFile(own) });
    }
  }
  return found;
}
