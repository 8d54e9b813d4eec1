import type { Panel } from "@tourney/core/contract";

/** One line a voter: name and personal link, for a letter to each. Cells are quoted; one that a spreadsheet would run begins with an apostrophe. */
export function invitationsCsv({ voters }: Pick<Panel, "voters">): string {
  const rows = voters.flatMap(({ name, url, revoked }) => (url === null || revoked ? [] : [[name, url]]));
  return [["name", "link"], ...rows].map((row) => row.map(quote).join(",")).join("\r\n") + "\r\n";
}

const quote = (cell: string): string => `"${(/^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell).replaceAll('"', '""')}"`;

/**
 * Names from what a person pastes or drops: one a line, or the first column of a CSV file, with or without a heading of `name`.
 * Empty lines are left out.
 */
export function readNames(text: string): string[] {
  const cells = text
    .replace(/^\uFEFF/, "")
    .split(/\r?\n/)
    .map((line) => {
      const quoted = /^\s*"((?:[^"]|"")*)"/.exec(line)?.[1];
      return (quoted?.replaceAll('""', '"') ?? line.split(/[,;\t]/)[0]!).trim();
    });
  const names = cells.filter((name) => name !== "");
  return names[0]?.toLowerCase() === "name" ? names.slice(1) : names;
}
