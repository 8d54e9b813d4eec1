import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { TourneyError } from "@tourney/core/errors";
import type { Services } from "../services.js";
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

const EXPORTS = { ballots: ["csv", "jsonl"], standings: ["csv", "json"], entries: ["zip"], all: ["zip"] } as const;

/** Writes ballots, standings, entries or everything to a file, or to standard output. A file that is there already is not written over. */
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
      reason: "There are ballots (csv, jsonl), standings (csv, json), entries (zip) and all (zip).",
      remedy: "Say it as in `./tourney export ballots --format csv --out ballots.csv`. Nothing was written.",
    });
  }
  await withServices(async (services) => {
    const edition = await chooseEdition(services, flags);
    const chunks = await readExport(services, { what, format, editionId: edition.id, flags });
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

/** What is exported, as pieces that are made while they are written. */
async function readExport(
  { exportService, bundles }: Services,
  { what, format, editionId, flags }: { what: string; format: string; editionId: string; flags: ExportFlags },
): Promise<AsyncIterable<string | Buffer>> {
  const withNames = flags.names === true;
  if (what === "entries" || what === "all")
    return (await bundles.make(editionId, { content: what, withNames })).stream as AsyncIterable<string | Buffer>;
  const counts = readCounts(flags);
  if (what === "standings")
    return (await exportService.exportStandings(editionId, { counts, format: format as "csv" | "json" })).chunks;
  const wanted = { counts, withNames, withAll: flags.all === true, format: format as "csv" | "jsonl" };
  return (await exportService.exportBallots(editionId, wanted)).chunks;
}
