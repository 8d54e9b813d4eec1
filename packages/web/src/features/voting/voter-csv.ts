import type { Panel } from "@tourney/core/contract";
import { CsvError, parse } from "csv-parse/browser/esm/sync";
import { stringify } from "csv-stringify/browser/esm/sync";

/** One line a voter: name and personal link, for a letter to each. Cells are quoted; one that a spreadsheet would run begins with an apostrophe. */
export function invitationsCsv({ voters }: Pick<Panel, "voters">): string {
  const rows = voters.flatMap(({ name, url, revoked }) => (url === null || revoked ? [] : [[name, url]]));
  return stringify([["name", "link"], ...rows], { quoted: true, escape_formulas: true, record_delimiter: "windows" });
}

/**
 * Names from what a person pastes or drops: one a line, or the first column of a CSV file, with or without a heading of `name`.
 * Empty lines are left out.
 *
 * @returns the names, and what is wrong with the text, from where on nothing could be read.
 */
export function readNames(text: string): { names: string[]; problem: string | null } {
  const names: string[] = [];
  let problem: string | null = null;
  try {
    parse(text, {
      bom: true,
      delimiter: [",", ";", "\t"],
      relax_column_count: true,
      // A quotation mark within a name is part of it.
      relax_quotes: true,
      skip_empty_lines: true,
      trim: true,
      on_record: ([name = ""]: string[]) => {
        if (name !== "") names.push(name);
        return null;
      },
    });
  } catch (error) {
    if (!(error instanceof CsvError)) throw error;
    const { lines } = error as CsvError & { lines?: number };
    problem = `A quotation mark${lines === undefined ? "" : ` in line ${lines}`} is not closed: what follows it is not read.`;
  }
  return { names: names[0]?.toLowerCase() === "name" ? names.slice(1) : names, problem };
}
