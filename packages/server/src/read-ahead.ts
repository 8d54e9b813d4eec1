import type { Logger } from "pino";
import type { Services } from "./services.js";

/**
 * Counts the ballots of the edition that pages open first. The first count after a start reads all of them, with a year's ballots for some seconds: this way whoever opens the standings or enters a
 * booth does not wait for that.
 */
export async function readAhead({ suites, standings }: Pick<Services, "suites" | "standings">, log: Logger) {
  try {
    const [newest] = await suites.listEditions();
    if (newest !== undefined) await standings.getStandings(newest.id);
  } catch (error) {
    log.warn({ err: error }, "standings were not counted ahead: whoever asks for them first waits");
  }
}
