import { closeSync, createReadStream, openSync, readFileSync, readSync, statSync } from "node:fs";
import { createInterface } from "node:readline";
import type { BallotTable } from "@tourney/core/ballot-table";
import { TourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";
import { explainUnreadable, readJson } from "./files.js";

export interface RateFlags {
  json?: boolean;
  kind?: string;
}

/** Above this a table would not fit in memory beside what its errors need. */
const LARGEST_BYTES = 512 * 1024 * 1024;

/** Rates a file of ballots without a database: a JSON file by its type, any other as a table of ballots. */
export async function rate(path: string, flags: RateFlags): Promise<void> {
  checkFile(path);
  if (/\.jsonl$/i.test(path)) await rateJsonl(path, flags);
  else if (/\.json$/i.test(path) || beginsAsJson(path)) await rateJson(path, flags);
  else await rateCsv(path, flags);
}

/** @throws TourneyError for a file that is not there, empty or too large. */
function checkFile(path: string): void {
  let bytes: number;
  try {
    const found = statSync(path);
    if (!found.isFile()) throw new Error("it is not a file");
    bytes = found.size;
  } catch (cause) {
    throw explainUnreadable(path, cause);
  }
  if (bytes === 0) {
    throw new TourneyError("INVALID_FILE", {
      message: `${path} is empty.`,
      reason: "There are no ballots in it, and no names of columns.",
      remedy: "Export the ballots again, or see ./tourney rate --help for what a file holds.",
    });
  }
  if (bytes > LARGEST_BYTES) {
    throw new TourneyError("TOO_LARGE", {
      message: `${path} has ${Math.round(bytes / 1e6)} MB; ${Math.round(LARGEST_BYTES / 1e6)} MB is the most that is read.`,
      reason: "All ballots are held in memory while their errors are worked out.",
      remedy: 'Count them first and rate the counts: a JSON file of type "fit" with input.counts has no such bound.',
    });
  }
}

/** Whatever its name: no table of ballots begins with a brace. */
function beginsAsJson(path: string): boolean {
  const file = openSync(path, "r");
  try {
    const start = Buffer.alloc(64);
    readSync(file, start, 0, start.length, 0);
    return /^\uFEFF?\s*\{/.test(start.toString("utf8"));
  } finally {
    closeSync(file);
  }
}

async function rateJson(path: string, flags: RateFlags): Promise<void> {
  const { rateFile } = await import("@tourney/core/rate-file");
  const { report, warnings } = rateFile(
    readJson(path, "Correct it; numbers that have no value, as NaN, are null in JSON."),
  );
  for (const warning of warnings) console.error(warning);
  console.log(flags.json ? JSON.stringify(report) : JSON.stringify(report, null, 2));
}

async function rateCsv(path: string, flags: RateFlags): Promise<void> {
  const { BallotTable } = await import("@tourney/core/ballot-table");
  const { CsvError, parse } = await import("csv-parse");
  let table: BallotTable | null = null;
  const wrong = new WrongLines(path);
  const options = { info: true, relax_column_count: true, skip_empty_lines: true, max_record_size: 1_000_000 };
  await checkText(path);
  const lines = createReadStream(path).pipe(parse({ ...options, bom: true, delimiter: findDelimiter(path) }));
  try {
    for await (const { record, info } of lines as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      if (table === null) table = new BallotTable(record, flags.kind);
      else wrong.guard(() => table!.add(record, info.lines));
    }
    wrong.tell();
  } catch (cause) {
    if (!(cause instanceof CsvError)) throw cause;
    throw new TourneyError("INVALID_FILE", {
      message: `${path} is not a table of comma-separated values.`,
      reason: cause.message,
      remedy:
        "Correct that line; a cell with a comma, a quote or a line break stands in quotes, and a quote in it is doubled.",
      cause,
    });
  }
  await printTable(path, table, flags);
}

/** @throws TourneyError INVALID_FILE where there is nothing to rate. */
async function printTable(path: string, table: BallotTable | null, flags: RateFlags): Promise<void> {
  if (table === null || table.length === 0) {
    throw new TourneyError("INVALID_FILE", {
      message: `${path} has no ballots${flags.kind === undefined ? "" : ` of the kind “${flags.kind}”`}.`,
      reason:
        table === null
          ? "It has no line with the names of its columns."
          : "Below the names of the columns nothing counts.",
      remedy: "Export the ballots again, or choose another kind.",
    });
  }
  const { rateTable } = await import("@tourney/core/ballot-table");
  const standings = rateTable(table);
  if (flags.json) console.log(JSON.stringify(standings));
  else printStandings(standings);
}

/** Rates a file with a ballot a line, as an object of its columns. */
async function rateJsonl(path: string, flags: RateFlags): Promise<void> {
  const { BALLOT_COLUMNS, BallotTable } = await import("@tourney/core/ballot-table");
  const table = new BallotTable(BALLOT_COLUMNS, flags.kind);
  const wrong = new WrongLines(path);
  await checkText(path);
  let number = 0;
  for await (const line of createInterface({ input: createReadStream(path), crlfDelay: Infinity })) {
    number++;
    if (line.trim() === "") continue;
    wrong.guard(() => {
      const ballot = readLine(line, number);
      table.add(
        BALLOT_COLUMNS.map((column) => cellOf(ballot[column])),
        number,
      );
    });
  }
  wrong.tell();
  await printTable(path, table, flags);
}

const cellOf = (value: unknown): string =>
  typeof value === "string" || typeof value === "number" || typeof value === "boolean" ? String(value) : "";

/** @throws TourneyError INVALID_INPUT that names the line. */
function readLine(line: string, number: number): Record<string, unknown> {
  let value: unknown;
  try {
    value = JSON.parse(line.replace(/^\uFEFF/, ""));
  } catch {
    value = null;
  }
  if (typeof value === "object" && value !== null && !Array.isArray(value)) return value as Record<string, unknown>;
  throw new TourneyError("INVALID_INPUT", {
    message: `Line ${number} is no JSON object.`,
    reason: "Each line holds one ballot, as an object of its columns.",
    remedy: "Export the ballots again, or correct the line; nothing has been rated.",
  });
}

/** @throws TourneyError INVALID_FILE that names the place, where a file is no text. */
async function checkText(path: string): Promise<void> {
  const strict = new TextDecoder("utf-8", { fatal: true });
  try {
    for await (const chunk of createReadStream(path)) strict.decode(chunk as Buffer, { stream: true });
    strict.decode();
  } catch {
    // The decoder says no more than that it cannot: the place is looked for.
    decodeText(readFileSync(path), path);
  }
}

/** Tables are separated by commas, or by semicolons or tabs, as spreadsheets write them in many countries: told by the names of the columns. */
function findDelimiter(path: string): string {
  const start = Buffer.alloc(4096);
  const file = openSync(path, "r");
  try {
    const head = start
      .subarray(0, readSync(file, start, 0, start.length, 0))
      .toString("latin1")
      .split(/\r?\n/)[0]!;
    const count = (delimiter: string) => head.split(delimiter).length;
    return [",", ";", "\t"].reduce((best, other) => (count(other) > count(best) ? other : best));
  } finally {
    closeSync(file);
  }
}

const MOST_WRONG_LINES = 20;

/** What is wrong with a table, gathered line by line, so that it is told at once. */
class WrongLines {
  private readonly first: TourneyError[] = [];
  private count = 0;

  constructor(private readonly path: string) {}

  /** Does what may find a line wrong. */
  guard(work: () => void): void {
    try {
      work();
    } catch (error) {
      if (!(error instanceof TourneyError)) throw error;
      this.count++;
      if (this.first.length < MOST_WRONG_LINES) this.first.push(error);
    }
  }

  /** @throws TourneyError INVALID_INPUT that lists them */
  tell(): void {
    const [one] = this.first;
    if (one === undefined) return;
    if (this.count === 1) throw one;
    const more = this.count - this.first.length;
    throw new TourneyError("INVALID_INPUT", {
      message: `${this.count} lines of ${this.path} cannot be used:\n${this.first.map(({ message }) => `  - ${message}`).join("\n")}${more > 0 ? `\n  - and ${more} more` : ""}`,
      reason: one.reason,
      remedy: one.remedy,
    });
  }
}

/** Without characters that would steer a terminal. */
// eslint-disable-next-line no-control-regex
const plain = (name: string): string => name.replace(/[\u0000-\u001f\u007f-\u009f]/g, "�");

type TableStandings = ReturnType<Awaited<typeof import("@tourney/core/ballot-table")>["rateTable"]>;

/** Entrants that met in no ballot, not even through others, have no ratings that could be compared: each group is a table of its own. */
function printStandings(all: TableStandings): void {
  const groups = [...new Set(all.standings.map(({ component }) => component))].filter((group) => group >= 0);
  if (groups.length > 1)
    console.log(
      `These are ${groups.length} groups of entrants that never met in a ballot, not even through others: no rating of one can be compared with one of another.\n`,
    );
  const tied = new Set(
    all.brackets.flatMap(([first, last]) => Array.from({ length: last - first + 1 }, (_, i) => first + i)),
  );
  for (const group of groups) {
    printGroup(
      all.standings.flatMap((one, index) => (one.component === group ? [{ ...one, isTied: tied.has(index) }] : [])),
    );
    if (groups.length > 1) console.log("");
  }
  printNotes(all);
}

function printGroup(standings: readonly (TableStandings["standings"][number] & { isTied: boolean })[]): void {
  const rows = standings.map(({ entrant, rating, halfWidth, rankRange, ballots: own, worksShare, isTied }) => [
    rankRange === null ? "–" : rankRange[0] === rankRange[1] ? `${rankRange[0]}` : `${rankRange[0]}–${rankRange[1]}`,
    plain(entrant),
    rating === null ? "no ballots" : rating.toFixed(0),
    halfWidth === null ? "" : `± ${halfWidth.toFixed(0)}`,
    isTied ? "tied" : "",
    `${own}`,
    `${(100 * worksShare).toFixed(0)} %`,
  ]);
  const head = ["Rank", "Entrant", "Rating", "95 %", "", "Ballots", "Works"];
  const widths = head.map((title, c) => Math.max(title.length, ...rows.map((row) => row[c]!.length)));
  const isNumber = [false, false, true, false, false, true, true];
  for (const row of [head, ...rows]) {
    console.log(
      row
        .map((cell, c) => (isNumber[c] ? cell.padStart(widths[c]!) : cell.padEnd(widths[c]!)))
        .join("  ")
        .trimEnd(),
    );
  }
}

function printNotes({ standings, ballots, clusters, side, methodVersion }: TableStandings): void {
  console.log(`\n${ballots} ballots, ${clusters.voters} voters, ${clusters.prompts} prompts.`);
  if (side !== null)
    console.log(`The left place is worth ${side.points.toFixed(0)} ± ${side.halfWidth.toFixed(0)} points.`);
  if (standings.some(({ halfWidth }) => halfWidth === null))
    console.log("No interval without at least two voters on two prompts.");
  console.log(`“tied”: cannot be told apart from a neighbour. Method: ${methodVersion}`);
}
