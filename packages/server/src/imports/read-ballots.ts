import { createHash } from "node:crypto";
import { readFile, stat } from "node:fs/promises";
import { TourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";
import { CsvError, parse } from "csv-parse/sync";
import * as z from "zod";

/** A table of ballots may be this large: some millions of lines. It is held in memory while it is checked as a whole. */
const LARGEST_FILE = 200_000_000;

const works = z
  .string()
  .regex(/^(|0|1|true|false|yes|no)$/i, "is neither true nor false")
  .default("")
  .transform((text) => !/^(0|false|no)$/i.test(text));

/** A line of a table of ballots that were voted elsewhere: the columns that are needed, and those that may be there. Others are passed over. */
export const BallotLine = z.object({
  voter: z.string().min(1, "is empty").max(200),
  prompt: z.string().min(1, "is empty"),
  left: z.string().min(1, "is empty"),
  right: z.string().min(1, "is empty"),
  lean: z.coerce.number().int("is none of -2, -1, 0, 1, 2").min(-2).max(2),
  left_works: works,
  right_works: works,
  at: z
    .union([z.literal(""), z.iso.datetime({ offset: true })], "is no instant as in 2026-11-28T10:00:00Z")
    .default("")
    .transform((text) => (text === "" ? null : text)),
  note: z.string().max(2000).default(""),
  seconds: z.coerce.number().min(0).max(86_400).default(0),
  not_counted: z.string().default(""),
});
export type BallotLine = z.output<typeof BallotLine> & { line: number };

/** A file of ballots as it was read. */
export interface BallotFile {
  ballots: BallotLine[];
  /** Lines that say of themselves that they do not count. */
  passedOver: number;
  sha256: string;
}

/** So many lines that are wrong are named. */
const MOST_NAMED = 20;

/** Ballots of a CSV file. Nothing is taken of a file of which one line is wrong. @throws TourneyError NOT_FOUND, TOO_LARGE, INVALID_FILE */
export async function readBallots(path: string): Promise<BallotFile> {
  const bytes = await readBytes(path);
  const records = readRecords(decodeText(bytes, path), path);
  const ballots: BallotLine[] = [];
  const wrong: string[] = [];
  let passedOver = 0;
  for (const { record, info } of records) {
    const parsed = BallotLine.safeParse(record);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      wrong.push(`line ${info.lines}: ${issue!.path.join(".")} ${issue!.message}`);
    } else if (parsed.data.not_counted !== "") passedOver++;
    else ballots.push({ ...parsed.data, line: info.lines });
  }
  if (wrong.length > 0) throw refuse(path, wrong);
  return { ballots, passedOver, sha256: createHash("sha256").update(bytes).digest("hex") };
}

async function readBytes(path: string): Promise<Buffer> {
  const found = await stat(path).catch(() => null);
  if (found === null || !found.isFile()) {
    throw new TourneyError("NOT_FOUND", {
      message: `${path} cannot be read.`,
      reason: "There is no file of that name.",
      remedy: "Give the path of a CSV file.",
    });
  }
  if (found.size <= LARGEST_FILE) return readFile(path);
  throw new TourneyError("TOO_LARGE", {
    message: `${path} is larger than ${LARGEST_FILE / 1e6} MB.`,
    reason: "It is checked as a whole before anything is taken in.",
    remedy: "Take it in in several files.",
  });
}

function readRecords(text: string, path: string): { record: Record<string, string>; info: { lines: number } }[] {
  try {
    return parse(text, {
      ...{ bom: true, info: true, relax_column_count: true, skip_empty_lines: true, trim: true },
      columns: (names: string[]) => names.map((name) => name.trim().toLowerCase()),
    });
  } catch (cause) {
    if (!(cause instanceof CsvError)) throw cause;
    throw new TourneyError("INVALID_FILE", {
      message: `${path} is not a table of comma-separated values.`,
      reason: cause.message,
      remedy: "Correct that line; a cell with a comma, a quote or a line break stands in quotes. Nothing was taken in.",
      cause,
    });
  }
}

/** That lines of a file cannot be taken, each with its place. */
export const refuse = (path: string, wrong: readonly string[]): TourneyError =>
  new TourneyError("INVALID_FILE", {
    message: `${wrong.length === 1 ? "A line" : `${wrong.length} lines`} of ${path} cannot be taken in: ${wrong.slice(0, MOST_NAMED).join("; ")}${wrong.length > MOST_NAMED ? "; …" : ""}.`,
    reason: "Standings that rest on half a file would be other standings.",
    remedy: "Correct what is named, or take those lines out, and import the file again. Nothing was taken in.",
  });
