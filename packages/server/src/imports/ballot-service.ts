import { basename } from "node:path";
import { keyOfVersion } from "@tourney/core/exports";
import { TourneyError } from "@tourney/core/errors";
import type { Database } from "../db/connection.js";
import type { AuditRepository } from "../voting/audit-repository.js";
import type { TellOfBallots } from "../voting/ballot-notice.js";
import type { BallotImportRepository, PlacedBallot } from "./ballot-repository.js";
import type { PlaceRow } from "./import-queries.sql.js";
import { type BallotFile, type BallotLine, refuse } from "./read-ballots.js";

interface ImportDeps {
  db: Database;
  imports: BallotImportRepository;
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
}

/** Takes in ballots that were voted elsewhere: as a panel of their own, so that they are told from those of the booth and can be left out of what counts. */
export function createBallotImportService({ db, imports, audit, tellOfBallots }: ImportDeps) {
  return {
    /**
     * All of a file or nothing.
     *
     * @throws TourneyError INVALID_FILE that names the lines that cannot be ballots here, CONFLICT for a file that was taken in before.
     */
    async importBallots(
      editionId: string,
      { path, file }: { path: string; file: BallotFile },
    ): Promise<{ ballots: number; voters: number; title: string }> {
      const message = `Ballots of a file, SHA-256 ${file.sha256}`;
      if (await imports.hasPanel(editionId, message)) {
        throw new TourneyError("CONFLICT", {
          message: `${path} has been taken in already.`,
          reason: "A panel of this edition has the ballots of a file with these very bytes.",
          remedy: "Nothing is to be done. Ballots that count twice would make differences look surer than they are.",
        });
      }
      const ballots = placeBallots(file.ballots, await imports.listPlaces(editionId), path);
      const title = `Voted elsewhere: ${basename(path)}`.slice(0, 120);
      await db.transact(async (transaction) => {
        const panelId = await imports.add({ editionId, title, message, ballots }, transaction);
        const detail = { file: basename(path), sha256: file.sha256, ballots: ballots.length };
        await audit.add(
          { actor: "lead", action: "took in ballots that were voted elsewhere", panelId, detail },
          transaction,
        );
      });
      tellOfBallots(editionId);
      return { title, ballots: ballots.length, voters: new Set(ballots.map(({ voter }) => voter)).size };
    },
  };
}

/** Finds the entries that ballots are on. @throws TourneyError INVALID_FILE */
function placeBallots(lines: readonly BallotLine[], places: readonly PlaceRow[], path: string): PlacedBallot[] {
  const prompts = new Set(places.map(({ promptKey }) => promptKey));
  const byKeys = new Map(places.map((place) => [`${place.promptKey} ${keyOfVersion(place.entrantKey, place)}`, place]));
  const asked = new Map<string, string[]>();
  const wrong: string[] = [];
  const placed: PlacedBallot[] = [];
  const now = new Date();
  for (const { line, ...ballot } of lines) {
    const [left, right] = [
      byKeys.get(`${ballot.prompt} ${ballot.left}`),
      byKeys.get(`${ballot.prompt} ${ballot.right}`),
    ];
    const missing = left === undefined ? ballot.left : right === undefined ? ballot.right : null;
    if (left === undefined || right === undefined) {
      wrong.push(
        prompts.has(ballot.prompt)
          ? `line ${line}: ${missing!} has no entry on ${ballot.prompt}`
          : `line ${line}: there is no prompt ${ballot.prompt}, or nothing was built for it`,
      );
      continue;
    }
    if (left === right) {
      wrong.push(`line ${line}: ${ballot.left} is paired with itself`);
      continue;
    }
    const pair = `${ballot.voter} ${[left.entryId, right.entryId].toSorted().join(" ")}`;
    const before = asked.get(pair) ?? [];
    asked.set(pair, [...before, left.entryId]);
    // Once more with the sides exchanged is a repeat, by which voters are checked; anything else is the same ballot twice.
    if (before.length > 1 || before[0] === left.entryId) {
      wrong.push(`line ${line}: ${ballot.voter} has voted on this pair above`);
      continue;
    }
    placed.push({
      ...{ voter: ballot.voter, left, right, isRepeat: before.length === 1, lean: ballot.lean },
      ...{ leftWorks: ballot.left_works, rightWorks: ballot.right_works, note: ballot.note },
      ...{ dwellMs: Math.round(ballot.seconds * 1000), at: ballot.at === null ? now : new Date(ballot.at) },
    });
  }
  if (wrong.length > 0) throw refuse(path, wrong);
  if (placed.length === 0) throw refuse(path, ["it has no ballot that counts"]);
  return placed;
}
