import { tmpdir } from "node:os";
import { basename } from "node:path";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import { Command } from "commander";
import { chooseEdition } from "./admin/choose-edition.js";
import { exportFile } from "./admin/export-command.js";
import { writeReport } from "./admin/report-command.js";
import { importBundle } from "./admin/import-bundle-command.js";
import { importBallots } from "./admin/import-ballots-command.js";
import { readText } from "./admin/read-text.js";
import { runPipeline } from "./admin/run-command.js";
import { freeKey, listKeys } from "./admin/key-commands.js";
import { addToken, listTokens, revokeToken } from "./admin/token-commands.js";
import { withServices } from "./admin/with-services.js";
import { withFolder } from "./with-folder.js";
import { seedDemo } from "./demo/seed-demo.js";
import { InvalidInput } from "./http/invalid-input.js";

/** So many things that are wrong with an input are listed. */
const MOST_ISSUES = 50;
/** Takes in a folder, zip or JSONL file of answers; what cannot be taken is said and leaves the rest standing. */
async function importAnswers(path: string, flags: { take: string; edition?: string; suite?: string }): Promise<void> {
  const take = Number(flags.take);
  if (!Number.isInteger(take) || take < 1) {
    throw new TourneyError("INVALID_INPUT", {
      message: `--take ${flags.take} is no take.`,
      reason: "Takes are counted from 1.",
      remedy: "Give a whole number, 1 or more.",
    });
  }
  await withServices(async (services) => {
    const edition = await chooseEdition(services, flags);
    console.log(`Into ${edition.suiteTitle} (${edition.suiteKey}), edition ${edition.number}:`);
    const { taken, refused } = await withFolder(tmpdir(), async (into) => {
      const found = await services.readers.read("answers", { path, name: basename(path), into });
      return services.entries.importAnswers(edition.id, found, take);
    });
    for (const { source, verdict, created } of taken)
      console.log(`${source}: ${created ? `taken, ${verdict}` : "is there already"}`);
    for (const { source, why } of refused) console.error(`${source}: ${why}`);
    console.log(
      `${taken.filter(({ created }) => created).length} taken, ${taken.filter(({ created }) => !created).length} there already, ${refused.length} not taken.`,
    );
    process.exitCode = refused.length > 0 ? 1 : 0;
  });
}

const program = new Command("tourney");
program
  .command("export <what>")
  .description("write ballots, standings, entries, or all of an edition to a file")
  .option("--suite <key>", "whose newest edition; needed where there are several suites")
  .option("--edition <number>", "its number, or its id; the newest unless given")
  .option("--format <format>", "ballots: csv or jsonl; standings: csv or json; entries and all: zip")
  .option("--kind <kind>", "only those on prompts of this kind")
  .option("--counts <query>", "what counts, as in the address of the standings: kind=game&broken=lose")
  .option("--names", "voters' names beside their pseudonyms")
  .option("--all", "also ballots that do not count, each with why")
  .option("--out <path>", "a file that is not there yet; standard output unless given")
  .action(exportFile);
program
  .command("report")
  .description("write the report on an edition's standings, one HTML file")
  .option("--suite <key>", "whose newest edition; needed where there are several suites")
  .option("--edition <number>", "its number, or its id; the newest unless given")
  .option("--counts <query>", "what counts, as in the address of the standings: kind=game&broken=lose")
  .option("--out <path>", "a file that is not there yet", "report.html")
  .option("--quiet", "do not say where it is")
  .action(writeReport);
program
  .command("run")
  .description("run a suite file with an entrants file, for a script")
  .requiredOption("--suite <file>", "the suite; it is frozen as an edition where it is none yet")
  .requiredOption("--entrants <file>", "who is asked; new ones are entered, changed ones get their next version")
  .option("--only <prompts>", "keys of prompts, separated by commas; all unless given")
  .option("--takes <n>", "how often each is asked each prompt", "1")
  .option("--mends <n>", "how often a page's own errors are fed back", "0")
  .option("--budget <usd>", "nothing more is sent before this is passed")
  .option("--unlike-because <why>", "why entrants with unlike settings are compared")
  .option("--fail-on <bar...>", "a bound that no entrant may pass, as in 'broken>5%'")
  .option("--wait", "come back when everything is answered and recorded")
  .option("--timeout <minutes>", "wait no longer than this", "720")
  .option("--patience <minutes>", "wait this long for an endpoint that does not answer", "5")
  .option("--json", "print a report in JSON")
  .action(runPipeline);
program
  .command("import-suite <file>")
  .description("read a suite file and freeze it as the next edition")
  .action((file: string) =>
    withServices(async ({ suites }) => {
      const { edition, created } = await suites.importSuite(await readText(file));
      console.log(
        `${edition.suiteTitle}, edition ${edition.number}, ${edition.prompts.length} prompts, ${created ? "frozen" : "is there already"} (${edition.digest.slice(0, 12)}).`,
      );
    }),
  );
program
  .command("import-entrants <file>")
  .description("read an entrants file")
  .action((file: string) =>
    withServices(async ({ entrants }) => {
      const { created, unchanged } = await entrants.importEntrants(await readText(file));
      console.log(`${created} entrants added, ${unchanged} were there already.`);
    }),
  );
program
  .command("import-answers <path>")
  .description("take in answers fetched by hand: a folder or zip of <prompt key>/<entrant key>.md, or a .jsonl file")
  .option("--take <n>", "which take they are", "1")
  .option("--suite <key>", "whose newest edition; needed where there are several suites")
  .option("--edition <id>", "the newest unless given")
  .action(importAnswers);
program
  .command("import-ballots <file>")
  .description("take in a CSV table of ballots that were voted elsewhere: all of it, or nothing")
  .option("--suite <key>", "whose newest edition; needed where there are several suites")
  .option("--edition <number>", "its number, or its id; the newest unless given")
  .action(importBallots);
program
  .command("import <file>")
  .description("take in a bundle of `export all` into an empty Tourney: all of it, or nothing")
  .action((file: string) => importBundle(file));
const token = program.command("token").description("tokens by which scripts call the HTTP API");
token
  .command("add <name>")
  .description("make one; it is printed once")
  .requiredOption("--scope <scope...>", "what it may do: read, run, change")
  .action(addToken);
token.command("list").description("those there are").option("--json", "as JSON").action(listTokens);
token.command("revoke <name>").description("revoke one, by its name or its id").action(revokeToken);
const key = program.command("key").description("which host each key goes to");
key.command("list").description("those that were sent").option("--json", "as JSON").action(listKeys);
key.command("free <variable>").description("let one go to another host").action(freeKey);
program
  .command("sign-in")
  .description("print a new one-time sign-in link for the lead")
  .action(() => withServices(async ({ auth }) => console.log(await auth.createSignInLink())));

program
  .command("seed-demo")
  .description("bring the demo scenario to life (for the demo's own start)")
  .requiredOption("--suite <file>")
  .requiredOption("--entrants <file>")
  .requiredOption("--endpoint <url>")
  .action((flags: { suite: string; entrants: string; endpoint: string }) =>
    withServices(async (services) => {
      await seedDemo(services, {
        suiteFile: flags.suite,
        entrantsFile: flags.entrants,
        endpoint: flags.endpoint,
        onProgress: (text) => process.send?.({ text }),
      });
    }),
  );

program.parseAsync().catch((thrown: unknown) => {
  const error = toTourneyError(thrown);
  console.error(describeError(error));
  // All that is wrong at once, so that nobody finds it piece by piece.
  if (error instanceof InvalidInput && error.issues.length > 1)
    for (const { path, message } of error.issues.slice(0, MOST_ISSUES)) console.error(`  - ${path}: ${message}`);
  process.exitCode = 1;
});
