import type { Edition, WhatCounts } from "@tourney/core/contract";
import {
  EXPORT_COLUMNS,
  type ExportedBallot,
  keyOfVersion,
  STANDINGS_COLUMNS,
  toCells,
  toStandingsCells,
} from "@tourney/core/exports";
import { isEverything, readPages } from "@tourney/core/what-counts";
import { stringify } from "csv-stringify/sync";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import { explainNotCounted } from "./explain-not-counted.js";
import { createPseudonyms } from "./pseudonyms.js";
import type { ExportRow } from "./export-queries.sql.js";
import type { ExportRepository } from "./repository.js";

/** What of an edition's ballots leaves Tourney, and how. */
export interface BallotExport {
  format: "csv" | "jsonl";
  /** What the standings count that they are to come to. */
  counts: WhatCounts;
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

/** What can be taken out of Tourney, for whoever wants to check it or go on with it elsewhere. */
export function createExportService({ exports, suites, standings, secret }: ExportDeps) {
  const pseudonymOf = createPseudonyms("voter", secret);
  function toExported(
    row: ExportRow,
    { lean, not_counted, withNames }: Pick<ExportedBallot, "lean" | "not_counted"> & { withNames: boolean },
  ): ExportedBallot {
    return {
      voter: pseudonymOf(row.voterId),
      prompt: row.promptKey,
      kind: row.kind,
      left: keyOfVersion(row.leftKey, { number: row.leftNumber, isPresent: row.leftIsPresent }),
      right: keyOfVersion(row.rightKey, { number: row.rightNumber, isPresent: row.rightIsPresent }),
      lean,
      left_works: row.leftWorks,
      right_works: row.rightWorks,
      at: row.castAt,
      not_counted,
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
      voted_lean: row.lean,
      sample: row.sample,
      window: row.seenWith === null ? "" : `${row.seenWith.width}×${row.seenWith.height}`,
      pointer: row.seenWith?.pointer ?? "",
      frame_rate: row.seenWith?.frameRate ?? "",
    };
  }

  /** The ballots of a batch that leave, each as it counts by the choice, or with why it does not. */
  function judgeRows(
    rows: readonly ExportRow[],
    { counted, wanted }: { counted: ReadonlyMap<string, number> | null; wanted: BallotExport },
  ): ExportedBallot[] {
    return rows.flatMap((row) => {
      const lean = counted === null ? row.lean : counted.get(row.id);
      const reason = counted !== null && lean !== undefined ? "" : explainNotCounted(row);
      const not_counted = reason === "" && lean === undefined ? "these standings leave it out" : reason;
      if (not_counted !== "" && !wanted.withAll) return [];
      return [toExported(row, { lean: lean ?? row.lean, not_counted, withNames: wanted.withNames })];
    });
  }

  async function* writeBallots(editionId: string, wanted: BallotExport): AsyncGenerator<string> {
    if (wanted.format === "csv") yield stringify([[...EXPORT_COLUMNS]]);
    const counted = isEverything(wanted.counts) ? null : await standings.listCounted(editionId, wanted.counts);
    const { contest } = readPages(wanted.counts);
    const withAll = wanted.withAll || counted !== null;
    for await (const rows of exports.streamBallots(editionId, { withAll, contest })) {
      const ballots = judgeRows(rows, { counted, wanted });
      yield wanted.format === "csv"
        ? stringify(ballots.map(toCells))
        : ballots.map((ballot) => `${JSON.stringify(ballot)}\n`).join("");
    }
  }

  const nameFile = (
    { suiteKey, number }: Edition,
    what: string,
    { counts, format }: Pick<BallotExport, "counts"> & { format: string },
  ) =>
    [
      suiteKey,
      `edition-${number}`,
      ...counts.kind,
      ...(isEverything({ ...counts, kind: [] }) ? [] : ["a-choice"]),
      `${what}.${format}`,
    ].join("-");

  return {
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async exportBallots(editionId: string, wanted: BallotExport): Promise<ExportedFile> {
      const edition = await suites.getEdition(editionId);
      return {
        name: nameFile(edition, "ballots", wanted),
        type: wanted.format === "csv" ? "text/csv" : "application/jsonl",
        chunks: writeBallots(editionId, wanted),
      };
    },
    /** The standings as they are on the screen, numbers unrounded. @throws TourneyError NOT_FOUND when the edition is not there. */
    async exportStandings(
      editionId: string,
      wanted: { format: "csv" | "json"; counts: WhatCounts },
    ): Promise<ExportedFile> {
      const edition = await suites.getEdition(editionId);
      // A file is handed on: it has what the lead changed a moment ago, too.
      const counted = await (isEverything(wanted.counts)
        ? standings.getFreshStandings(editionId)
        : standings.getStandings(editionId, wanted.counts));
      const text =
        wanted.format === "csv"
          ? stringify([[...STANDINGS_COLUMNS], ...toStandingsCells(counted)])
          : `${JSON.stringify(counted, null, 2)}\n`;
      return {
        name: nameFile(edition, "standings", wanted),
        type: wanted.format === "csv" ? "text/csv" : "application/json",
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
