import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { TourneyError } from "@tourney/core/errors";
import { chooseEdition, type EditionFlags } from "./choose-edition.js";
import { readCounts } from "./read-counts.js";
import { withServices } from "./with-services.js";
import { writeNew } from "./write-new.js";

export interface ExportFlags extends EditionFlags {
  format?: string;
  kind?: string;
  counts?: string;
  names?: boolean;
  all?: boolean;
  out?: string;
}

const EXPORTS = { ballots: ["csv", "jsonl"], standings: ["csv", "json"] } as const;

/** Writes ballots or standings to a file, or to standard output. A file that is there already is not written over. */
export async function exportFile(what: string, flags: ExportFlags): Promise<void> {
  const formats = anyOf(EXPORTS, what);
  const ending = flags.out === undefined ? undefined : /\.([a-z]+)$/.exec(flags.out)?.[1];
  const format = (formats as readonly string[] | undefined)?.find(
    (known, index) => known === (flags.format ?? ending) || (flags.format === undefined && !ending && index === 0),
  );
  if (format === undefined) {
    throw new TourneyError("INVALID_INPUT", {
      message:
        formats === undefined
          ? `${JSON.stringify(what)} cannot be exported.`
          : `${what} are not written as ${JSON.stringify(flags.format ?? ending)}.`,
      reason: "There are ballots (csv, jsonl) and standings (csv, json).",
      remedy: "Say it as in `./tourney export ballots --format csv --out ballots.csv`. Nothing was written.",
    });
  }
  const counts = readCounts(flags);
  await withServices(async (services) => {
    const edition = await chooseEdition(services, flags);
    const { exportService } = services;
    const wanted = { counts, withNames: flags.names === true, withAll: flags.all === true };
    const { chunks } =
      what === "ballots"
        ? await exportService.exportBallots(edition.id, { ...wanted, format: format as "csv" | "jsonl" })
        : await exportService.exportStandings(edition.id, { counts, format: format as "csv" | "json" });
    if (flags.out === undefined) {
      await pipeline(Readable.from(chunks), process.stdout, { end: false });
      return;
    }
    await writeNew(flags.out, chunks);
    console.error(`${what} of ${edition.suiteTitle}, edition ${edition.number}, are in ${flags.out}.`);
  });
}

const anyOf = <T extends object>(options: T, key: string): T[keyof T] | undefined =>
  Object.hasOwn(options, key) ? options[key as keyof T] : undefined;
