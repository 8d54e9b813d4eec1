import { createWriteStream } from "node:fs";
import { readFile, rm, stat } from "node:fs/promises";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { type EditionSummary, Kind, MOST_YAML_LENGTH, YAML_TOO_LONG } from "@tourney/core/contract";
import { describeError, toTourneyError, TourneyError } from "@tourney/core/errors";
import { decodeText } from "@tourney/core/text-file";
import { resolveConnection } from "@tourney/store";
import { Command } from "commander";
import { pino } from "pino";
import { readConfig } from "./config.js";
import { connectDatabase } from "./db/connection.js";
import { readAnswersPath } from "./entries/read-answers.js";
import { seedDemo } from "./demo/seed-demo.js";
import { InvalidInput } from "./http/parse-input.js";
import { createKeyReader } from "./keys.js";
import { createServices, type Services } from "./services.js";

/** The verbs that work on a running Tourney's database by its own services. */
async function withServices(work: (services: Services) => Promise<void>): Promise<void> {
  const config = readConfig(process.env);
  const log = pino({ level: "warn" }, pino.destination(2));
  const connection = await resolveConnection(config.database);
  const db = await connectDatabase(connection, log);
  try {
    await work(createServices({ config, db, log, readKey: createKeyReader(process.env) }));
  } finally {
    await db.close();
  }
}

/** So many things that are wrong with an input are listed. */
const MOST_ISSUES = 50;
/** A character takes up to four bytes, so what is longer holds too many of them. */
const MOST_FILE_BYTES = MOST_YAML_LENGTH * 4;

async function readText(path: string): Promise<string> {
  try {
    const { size } = await stat(path);
    if (size <= MOST_FILE_BYTES) return decodeText(await readFile(path), path);
  } catch (cause) {
    if (cause instanceof TourneyError) throw cause;
    throw new TourneyError("NOT_FOUND", {
      message: `${path} cannot be read.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give the path of a file that is there.",
      cause,
    });
  }
  throw new TourneyError("TOO_LARGE", {
    message: `${path} ${YAML_TOO_LONG}.`,
    reason: "It is not read at all, since reading takes many times its length in memory.",
    remedy: "Check that it is the file you mean. Nothing was changed.",
  });
}

/** The edition that a verb works on. Where there are several suites, it has to be said which. */
async function chooseEdition(
  { suites }: Services,
  flags: { edition?: string; suite?: string },
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
  const found = await readAnswersPath(path);
  await withServices(async (services) => {
    const edition = await chooseEdition(services, flags);
    console.log(`Into ${edition.suiteTitle} (${edition.suiteKey}), edition ${edition.number}:`);
    const { taken, refused } = await services.entries.importAnswers(edition.id, found, take);
    for (const { source, verdict, created } of taken)
      console.log(`${source}: ${created ? `taken, ${verdict}` : "is there already"}`);
    for (const { source, why } of refused) console.error(`${source}: ${why}`);
    console.log(
      `${taken.filter(({ created }) => created).length} taken, ${taken.filter(({ created }) => !created).length} there already, ${refused.length} not taken.`,
    );
    process.exitCode = refused.length > 0 ? 1 : 0;
  });
}

interface ExportFlags {
  edition?: string;
  suite?: string;
  format?: string;
  kind?: string;
  names?: boolean;
  all?: boolean;
  out?: string;
}

const EXPORTS = { ballots: ["csv", "jsonl"], standings: ["csv", "json"] } as const;

/** Writes ballots or standings to a file, or to standard output. A file that is there already is not written over. */
async function exportFile(what: string, flags: ExportFlags): Promise<void> {
  const formats = anyOf(EXPORTS, what);
  const ending = flags.out === undefined ? undefined : /\.([a-z]+)$/.exec(flags.out)?.[1];
  const format = (formats as readonly string[] | undefined)?.find(
    (known, index) => known === (flags.format ?? ending) || (flags.format === undefined && !ending && index === 0),
  );
  const kind = flags.kind === undefined ? null : Kind.safeParse(flags.kind).data;
  if (format === undefined || kind === undefined) {
    throw new TourneyError("INVALID_INPUT", {
      message:
        formats === undefined
          ? `${JSON.stringify(what)} cannot be exported.`
          : kind === undefined
            ? `${JSON.stringify(flags.kind)} is no kind of prompt.`
            : `${what} are not written as ${JSON.stringify(flags.format ?? ending)}.`,
      reason: `There are ballots (csv, jsonl) and standings (csv, json); kinds are ${Kind.options.join(", ")}.`,
      remedy: "Say it as in `./tourney export ballots --format csv --out ballots.csv`. Nothing was written.",
    });
  }
  await withServices(async (services) => {
    const edition = await chooseEdition(services, flags);
    const { exportService } = services;
    const wanted = { kind, withNames: flags.names === true, withAll: flags.all === true };
    const { chunks } =
      what === "ballots"
        ? await exportService.exportBallots(edition.id, { ...wanted, format: format as "csv" | "jsonl" })
        : await exportService.exportStandings(edition.id, { kind, format: format as "csv" | "json" });
    if (flags.out === undefined) {
      await pipeline(Readable.from(chunks), process.stdout, { end: false });
      return;
    }
    await writeNew(flags.out, chunks);
    console.error(`${what} of ${edition.suiteTitle}, edition ${edition.number}, are in ${flags.out}.`);
  });
}

const anyOf = <T extends object>(options: T, key: string): T[keyof T] | undefined =>
  Object.hasOwn(options, key) ? options[key as keyof T] : undefined;

async function writeNew(path: string, chunks: AsyncIterable<string>): Promise<void> {
  try {
    await pipeline(Readable.from(chunks), createWriteStream(path, { flags: "wx" }));
  } catch (cause) {
    // Half a file would be taken for a whole one. What was there before is not touched.
    if (!(cause instanceof Error && "code" in cause && cause.code === "EEXIST"))
      await rm(path, { force: true }).catch(() => undefined);
    throw new TourneyError("CONFLICT", {
      message: `${path} could not be written.`,
      reason: cause instanceof Error ? cause.message : String(cause),
      remedy: "Give the path of a file that is not there yet, in a folder that is, on a disk with room.",
      cause,
    });
  }
}

const program = new Command("tourney");
program
  .command("export <what>")
  .description("write ballots or standings to a file")
  .option("--suite <key>", "whose newest edition; needed where there are several suites")
  .option("--edition <number>", "its number, or its id; the newest unless given")
  .option("--format <format>", "ballots: csv or jsonl; standings: csv or json")
  .option("--kind <kind>", "only those on prompts of this kind")
  .option("--names", "voters' names beside their pseudonyms")
  .option("--all", "also ballots that do not count, each with why")
  .option("--out <path>", "a file that is not there yet; standard output unless given")
  .action(exportFile);
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
