import { closeSync, createReadStream, openSync, readSync, statSync } from "node:fs";
import { TourneyError } from "@tourney/core/errors";
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
  if (/\.json$/i.test(path) || beginsAsJson(path)) await rateJson(path, flags);
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
  const { BallotTable, rateTable } = await import("@tourney/core/ballot-table");
  const { CsvError, parse } = await import("csv-parse");
  let table: InstanceType<typeof BallotTable> | null = null;
  const lines = createReadStream(path).pipe(
    parse({ bom: true, info: true, relax_column_count: true, skip_empty_lines: true, max_record_size: 1_000_000 }),
  );
  try {
    for await (const { record, info } of lines as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      if (table === null) table = new BallotTable(record, flags.kind);
      else table.add(record, info.lines);
    }
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
  const standings = rateTable(table);
  if (flags.json) console.log(JSON.stringify(standings));
  else printStandings(standings);
}

/** Without characters that would steer a terminal. */
// eslint-disable-next-line no-control-regex
const plain = (name: string): string => name.replace(/[\u0000-\u001f\u007f-\u009f]/g, "�");

type TableStandings = ReturnType<Awaited<typeof import("@tourney/core/ballot-table")>["rateTable"]>;

function printStandings({ standings, brackets, ballots, clusters, side, methodVersion }: TableStandings): void {
  const tied = new Set(
    brackets.flatMap(([first, last]) => Array.from({ length: last - first + 1 }, (_, i) => first + i)),
  );
  const rows = standings.map(({ entrant, rating, halfWidth, rankRange, ballots: own, worksShare }, index) => [
    rankRange === null ? "–" : rankRange[0] === rankRange[1] ? `${rankRange[0]}` : `${rankRange[0]}–${rankRange[1]}`,
    plain(entrant),
    rating === null ? "no ballots" : rating.toFixed(0),
    halfWidth === null ? "" : `± ${halfWidth.toFixed(0)}`,
    tied.has(index) ? "tied" : "",
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
  console.log(`\n${ballots} ballots, ${clusters.voters} voters, ${clusters.prompts} prompts.`);
  if (side !== null)
    console.log(`The left place is worth ${side.points.toFixed(0)} ± ${side.halfWidth.toFixed(0)} points.`);
  if (standings.some(({ halfWidth }) => halfWidth === null))
    console.log("No interval without at least two voters on two prompts.");
  console.log(`“tied”: cannot be told apart from a neighbour. Method: ${methodVersion}`);
}
