import type { EditionSummary } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type { Services } from "../services.js";

/** What says which edition a verb works on. */
export interface EditionFlags {
  edition?: string;
  suite?: string;
}

/** The edition that a verb works on. Where there are several suites, it has to be said which. */
export async function chooseEdition(
  { suites }: Pick<Services, "suites">,
  flags: EditionFlags,
): Promise<EditionSummary> {
  const editions = await suites.listEditions();
  const keys = [...new Set(editions.map(({ suiteKey }) => suiteKey))];
  const [edition] = editions.filter(
    ({ id, number, suiteKey }) =>
      [id, String(number), undefined].includes(flags.edition) && (flags.suite ?? suiteKey) === suiteKey,
  );
  if (edition === undefined) {
    throw new TourneyError("NOT_FOUND", {
      message: editions.length === 0 ? "There is no edition yet." : "There is no such edition.",
      reason:
        editions.length === 0
          ? "Answers and ballots belong to the prompts of a frozen edition."
          : `There are the suites ${keys.join(", ")}.`,
      remedy:
        editions.length === 0
          ? "Import a suite first: `./tourney import-suite FILE`."
          : "Give --suite KEY of one of them.",
    });
  }
  // The number of an edition is one of each suite's.
  if (keys.length > 1 && flags.edition !== edition.id && flags.suite === undefined) {
    throw new TourneyError("INVALID_INPUT", {
      message: "It is not said which suite is meant.",
      reason: `There are ${keys.join(", ")}.`,
      remedy: `Say it, as in --suite ${keys[0]!}. Nothing was done.`,
    });
  }
  return edition;
}
