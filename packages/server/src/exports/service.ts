import { createHmac } from "node:crypto";
import type { Edition, Kind } from "@tourney/core/contract";
import {
  EXPORT_COLUMNS,
  type ExportedBallot,
  keyOfVersion,
  STANDINGS_COLUMNS,
  toCells,
  toStandingsCells,
} from "@tourney/core/exports";
import { stringify } from "csv-stringify/sync";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import type { ExportRow } from "./export-queries.sql.js";
import type { ExportRepository } from "./repository.js";

/** What of an edition's ballots leaves Tourney, and how. */
export interface BallotExport {
  format: "csv" | "jsonl";
  kind: Kind | null;
  /** With voters' names beside their pseudonyms, which are the same in every export of this Tourney. */
  withNames: boolean;
  /** Also those that do not count, each with why, and those on older versions of entrants. */
  withAll: boolean;
}

/** A file that is made while it is sent. */
export interface ExportedFile {
  name: string;
  type: string;
  chunks: AsyncIterable<string>;
}

interface ExportDeps {
  exports: ExportRepository;
  suites: SuiteService;
  standings: StandingsService;
  /** Pseudonyms cannot be told from names without it. */
  secret: string;
}

const PSEUDONYM_LENGTH = 10;

/** What can be taken out of Tourney, for whoever wants to check it or go on with it elsewhere. */
export function createExportService({ exports, suites, standings, secret }: ExportDeps) {
  const pseudonymOf = (voterId: string): string =>
    `voter-${createHmac("sha256", secret).update(`pseudonym ${voterId}`).digest("hex").slice(0, PSEUDONYM_LENGTH)}`;

  function toExported(row: ExportRow, { withNames }: BallotExport): ExportedBallot {
    return {
      voter: pseudonymOf(row.voterId),
      prompt: row.promptKey,
      kind: row.kind,
      left: keyOfVersion(row.leftKey, { number: row.leftNumber, isPresent: row.leftIsPresent }),
      right: keyOfVersion(row.rightKey, { number: row.rightNumber, isPresent: row.rightIsPresent }),
      lean: row.lean,
      left_works: row.leftWorks,
      right_works: row.rightWorks,
      at: row.castAt,
      not_counted: explainNotCounted(row),
      ballot: row.id,
      voter_name: withNames ? row.voterName : "",
      panel: row.panelTitle,
      bout: row.ordinal,
      left_name: row.leftName,
      right_name: row.rightName,
      left_entry: row.leftEntryId,
      right_entry: row.rightEntryId,
      asked_because: row.askedBecause,
      reasons: row.reasons,
      note: row.note,
      seconds: row.dwellMs / 1000,
      unseen: row.isAutomatic,
      repeat: row.isRepeat,
      sample: row.sample,
    };
  }

  async function* writeBallots(editionId: string, wanted: BallotExport): AsyncGenerator<string> {
    if (wanted.format === "csv") yield stringify([[...EXPORT_COLUMNS]]);
    for await (const rows of exports.streamBallots(editionId, wanted)) {
      const ballots = rows.map((row) => toExported(row, wanted));
      yield wanted.format === "csv"
        ? stringify(ballots.map(toCells))
        : ballots.map((ballot) => `${JSON.stringify(ballot)}\n`).join("");
    }
  }

  const nameFile = ({ suiteKey, number }: Edition, what: string, kind: Kind | null, ending: string) =>
    [suiteKey, `edition-${number}`, ...(kind === null ? [] : [kind]), `${what}.${ending}`].join("-");

  return {
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async exportBallots(editionId: string, wanted: BallotExport): Promise<ExportedFile> {
      const edition = await suites.getEdition(editionId);
      return {
        name: nameFile(edition, "ballots", wanted.kind, wanted.format),
        type: wanted.format === "csv" ? "text/csv" : "application/jsonl",
        chunks: writeBallots(editionId, wanted),
      };
    },
    /** The standings as they are on the screen, numbers unrounded. @throws TourneyError NOT_FOUND when the edition is not there. */
    async exportStandings(
      editionId: string,
      { format, kind }: { format: "csv" | "json"; kind: Kind | null },
    ): Promise<ExportedFile> {
      const edition = await suites.getEdition(editionId);
      const counted = await standings.getStandings(editionId, { kind });
      const text =
        format === "csv"
          ? stringify([[...STANDINGS_COLUMNS], ...toStandingsCells(counted)])
          : `${JSON.stringify(counted, null, 2)}\n`;
      return {
        name: nameFile(edition, "standings", kind, format),
        type: format === "csv" ? "text/csv" : "application/json",
        chunks: one(text),
      };
    },
  };
}
export type ExportService = ReturnType<typeof createExportService>;

// eslint-disable-next-line @typescript-eslint/require-await -- a file in one piece is sent as those in many are
async function* one(text: string): AsyncGenerator<string> {
  yield text;
}

/** Why a ballot is not among those that the standings count, in words; empty where it is. */
function explainNotCounted({ voidedBy, voidReason, leftOutWhy, leftIsPresent, rightIsPresent }: ExportRow): string {
  const because = (what: string, why: string | null) => (why ? `${what}: ${why}` : what);
  if (voidedBy === "voter") return "taken back by the voter";
  if (voidedBy !== null) return because("voided", voidReason);
  if (leftOutWhy !== null) return because("the voter is left out", leftOutWhy);
  return leftIsPresent && rightIsPresent ? "" : "on an older version of an entrant";
}
