import { describeError, toTourneyError } from "@tourney/core/errors";
import { Command } from "commander";
import { PROGRAMS, SHELF_DIR } from "./paths.js";
import type { ReachFlags } from "./reach.js";
import { passThrough } from "./run-command.js";

/** Verbs load their own code when they are called, so that the quick ones are quick. */
const program = new Command("tourney")
  .description("Tourney: which model builds the best front ends, how sure are we, and what does it cost?")
  .enablePositionalOptions();

const withReach = (command: Command) =>
  command
    .option("--port <n>", "of the app; without it a free one is chosen")
    .option("--exhibit-port <n>", "of the outputs")
    .option("--listen <address>", "one of this machine's addresses, 0.0.0.0 for all; 127.0.0.1 when it is not said")
    .option("--public-url <url>", "where people open it, as in https://tourney.example (docs/elsewhere.md)")
    .option("--stages-url <url>", "where outputs are shown, as in https://*.stages.tourney.example");
withReach(program.command("demo"))
  .description("set up what is missing and start with the demo scenario (sample data)")
  .option("--fresh", "delete the demo's data before starting")
  .action(async (flags: ReachFlags & { fresh?: boolean }) => (await import("./instance-commands.js")).demo(flags));
withReach(program.command("start"))
  .description("the same on real data, without samples")
  .action(async (flags: ReachFlags) => (await import("./instance-commands.js")).start(flags));
program
  .command("stop")
  .description("stop what runs")
  .action(async () => (await import("./instance-commands.js")).stop());
program
  .command("status")
  .description("say what runs and where")
  .option("--json", "as JSON")
  .action(async (flags: { json?: boolean }) => (await import("./instance-commands.js")).status(flags));
program
  .command("test")
  .description("set up what is missing and run every check")
  .option("--only <steps>", "comma-separated: lint, types, graph, unused, formats, unit, integration, e2e")
  .action(async (flags: { only?: string }) => (await import("./test-command.js")).test(flags));
program
  .command("extract <files...>")
  .description("take the artifact out of an answer; several files are the parts of a continued one")
  .option("--stop-reason <text>", "what the endpoint reported")
  .option("--rules <file>", "the prompt's rules as JSON, to say which were not kept")
  .option("--names <file>", "names as JSON that the output must not tell")
  .option("--out <dir>", "write the files there")
  .option("--json", "as JSON")
  .action(async (files: string[], flags: object) => (await import("./extract-command.js")).extract(files, flags));

program
  .command("rate <file>")
  .description("rate ballots from a file, without a database")
  .option("--json", "as JSON, numbers unrounded")
  .option("--kind <kind>", "of a table of ballots, only those on prompts of this kind")
  .addHelpText(
    "after",
    `
A .csv file is a table of ballots with the columns voter,prompt,kind,left,right,lean,left_works,right_works,at; left and right
are entrants, lean goes from -2 (left by far) to 2 (right by far). A .jsonl file has the same, one ballot a line. Either is what
./tourney export ballots writes. Ballots that say in a column not_counted why they are not counted are passed over. The
standings are printed as a table.

A .json file is {"type", "input", "options"}. Entrants, voters, prompts and categories are numbered from 0, outcomes from 1
(left by far) to K (right by far); what has no value is null.
  fit          input: entrants (names), K, and counts [[left, right, outcome, n], …] or ballots {voter: […], prompt: […],
               left: […], right: […], outcome: […]}; options: ridge, side, ridgeSide, anchor {entrant, rating}, base, scale
  category     input: entrants, K, categoryNames, counts [[left, right, outcome, category, n], …]; options: as fit, ridgeCategory
  elo          input: entrants, K, sequence [[left, right, outcome], …]; options: base, kFactor, sideElo
  diagnostics  input: entrants, K, ballots; options: ridge, side, ridgeSide
  alpha        input: units [[value, …], …] with values 1 to K
Ends with 1, and says what to do, when a file cannot be rated. The method: docs/ratings.md.`,
  )
  .action(async (file: string, flags: object) => (await import("./rate-command.js")).rate(file, flags));

program
  .command("worker")
  .description("work on the queue beside a running Tourney, here or on another host")
  .option("--render <n>", "record so many pages at a time")
  .option("--generate <m>", "wait for so many answers at a time")
  .option("--demo", "for the demo, when both run")
  .addHelpText(
    "after",
    "\nOn another host, set DATABASE_URL, TOURNEY_RENDER_ROLE_PASSWORD and TOURNEY_DATA_DIR, a folder that all hosts share\n(docs/workers.md).",
  )
  .action(async (flags: object) => (await import("./worker-command.js")).work(flags));

const shelf = program.command("shelf").description("libraries that stand in for the public hosts pages load them from");
shelf
  .command("add [names...]")
  .description("put npm packages on the shelf, as in three@0.160")
  .option("--all", "all that pages were seen to load")
  .action(async (names: string[], flags: { all?: boolean }) =>
    (await import("./shelf-command.js")).addToShelf(names, flags),
  );
shelf
  .command("list")
  .description("say what is on it")
  .option("--json", "as JSON")
  .action(async (flags: { json?: boolean }) => (await import("./shelf-command.js")).listShelf(flags));

for (const [verb, description] of [
  ["sign-in", "print a new one-time sign-in link for the lead"],
  ["import-suite", "read a suite file and freeze it as the next edition"],
  ["import-entrants", "read an entrants file"],
  ["import-answers", "take in answers fetched by hand"],
  ["import-ballots", "take in a table of ballots that were voted elsewhere"],
  ["run", "run a suite file with an entrants file for a script, and check what came of it"],
  ["token", "make, list and revoke tokens by which scripts call the HTTP API"],
  ["key", "list which host each key goes to, and let one go to another"],
  ["import", "take in a bundle of `export all` into an empty Tourney"],
  ["export", "write ballots, standings, entries, or all of an edition to a file"],
] as const) {
  program
    .command(`${verb} [args...]`)
    .description(`${description} (on a running Tourney; --demo for the demo)`)
    .passThroughOptions()
    .allowUnknownOption()
    .action(async (args: string[]) => (await import("./instance-commands.js")).onRunning(verb, args));
}

program
  .command("report [args...]")
  .description("write the report on an edition's standings, HTML or PDF (on a running Tourney; --demo for the demo)")
  .option("--out <path>", "a file that is not there yet, .html or .pdf; report.html unless given")
  .allowUnknownOption()
  .action(async (args: string[], flags: { out?: string }) =>
    (await import("./report-command.js")).writeReport(flags, args),
  );

for (const [verb, path, description] of [
  ["render", PROGRAMS.render, "record a page headlessly"],
  ["stand-in", PROGRAMS.standIn, "serve the stand-in endpoint"],
] as const) {
  program
    .command(`${verb} [args...]`)
    .description(description)
    .helpOption(false)
    .passThroughOptions()
    .allowUnknownOption()
    .action(async (args: string[]) => {
      process.exitCode = await passThrough(path, args, { ...process.env, TOURNEY_SHELF_DIR: SHELF_DIR });
    });
}

program.parseAsync().catch((thrown: unknown) => {
  console.error(describeError(toTourneyError(thrown)));
  process.exitCode = 1;
});
