import { TourneyError } from "@tourney/core/errors";

/** What is said where an address names an entry that is not there. */
export const noSuchEntry = (entryId: string): TourneyError =>
  new TourneyError("NOT_FOUND", {
    message: `There is no entry ${entryId}.`,
    reason: "It may belong to another Tourney.",
    remedy: "Open the wall and choose a cell.",
  });
