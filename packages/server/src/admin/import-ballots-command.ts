import { chooseEdition, type EditionFlags } from "./choose-edition.js";
import { withServices } from "./with-services.js";

/** Takes in a table of ballots that were voted elsewhere, all of it or nothing. */
export async function importBallots(path: string, flags: EditionFlags): Promise<void> {
  await withServices(async (services) => {
    const file = await services.readers.read("ballots", path);
    const edition = await chooseEdition(services, flags);
    const { ballots, voters, title } = await services.ballotImports.importBallots(edition.id, { path, file });
    console.log(
      `${ballots} ballots by ${voters} voters are taken in as the panel “${title}” of ${edition.suiteTitle}, edition ${edition.number}${file.passedOver > 0 ? `; ${file.passedOver} that do not count were passed over` : ""}.`,
    );
  });
}
