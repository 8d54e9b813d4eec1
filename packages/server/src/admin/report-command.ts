import { chooseEdition, type EditionFlags } from "./choose-edition.js";
import { readCounts } from "./read-counts.js";
import { withServices } from "./with-services.js";
import { writeNew } from "./write-new.js";

export interface ReportFlags extends EditionFlags {
  counts?: string;
  out: string;
  quiet?: boolean;
}

/** Writes the report on an edition's standings, one HTML file. A file that is there already is not written over. */
export function writeReport(flags: ReportFlags): Promise<void> {
  const counts = readCounts(flags);
  return withServices(async (services) => {
    const edition = await chooseEdition(services, flags);
    await writeNew(flags.out, [await services.standingsReport.make(edition.id, counts)]);
    if (!flags.quiet)
      console.error(`The report on ${edition.suiteTitle}, edition ${edition.number}, is in ${flags.out}.`);
  });
}
