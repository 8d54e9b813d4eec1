import type { Compared, FigureRow } from "@tourney/core/compare";
import type { EntryDetail } from "@tourney/core/contract";
import { stringify } from "csv-stringify/browser/esm/sync";

/** What tells one entry from the others of a comparison: its entrant, and its take, turn or round where they are not the first. */
export function nameOfCompared({
  entrant,
  version,
  take,
  turn,
  round,
  mends,
  corrections,
  handMended,
}: EntryDetail): string {
  return [
    entrant.name,
    ...(version.isPresent ? [] : [`version ${version.number}`]),
    ...(take > 1 ? [`take ${take}`] : []),
    ...(turn > 1 ? [`turn ${turn}`] : []),
    ...(round === 0 ? [] : [mends > 0 ? `mend ${mends}` : `correction ${corrections}`]),
    ...(handMended === null ? [] : ["changed by hand"]),
  ].join(", ");
}

const namesOf = (compared: readonly Compared[]) => compared.map(({ entry }) => nameOfCompared(entry));

/** The figures as CSV, a column for each entry. */
export const toCsv = (compared: readonly Compared[], rows: readonly FigureRow[]): string =>
  stringify([["figure", ...namesOf(compared)], ...rows.map(({ label, texts }) => [label, ...texts])], {
    escape_formulas: true,
  });

const escapeCell = (text: string) =>
  text
    .replaceAll("\\", "\\\\")
    .replaceAll("|", "\\|")
    .split(/\n\s*/)
    .map((line) => line.trimEnd())
    .join(" ");

/** The figures as a Markdown table, the best in bold. */
export function toMarkdown(compared: readonly Compared[], rows: readonly FigureRow[]): string {
  const line = (cells: readonly string[]) => `| ${cells.join(" | ")} |`;
  return [
    line(["figure", ...namesOf(compared).map(escapeCell)]),
    line(["---", ...compared.map(() => "---:")]),
    ...rows.map(({ label, texts, best }) =>
      line([label, ...texts.map((text, index) => (best[index] ? `**${escapeCell(text)}**` : escapeCell(text)))]),
    ),
    "",
  ].join("\n");
}
