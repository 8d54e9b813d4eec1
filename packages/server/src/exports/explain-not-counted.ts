import type { ExportRow } from "./export-queries.sql.js";

/** Why a ballot is not among those that the standings count, in words; empty where it is. */
export function explainNotCounted({
  voidedBy,
  voidReason,
  leftOutWhy,
  leftIsPresent,
  rightIsPresent,
}: ExportRow): string {
  const because = (what: string, why: string | null) => (why ? `${what}: ${why}` : what);
  if (voidedBy === "voter") return "taken back by the voter";
  if (voidedBy !== null) return because("voided", voidReason);
  if (leftOutWhy !== null) return because("the voter is left out", leftOutWhy);
  return leftIsPresent && rightIsPresent ? "" : "on an older version of an entrant";
}
