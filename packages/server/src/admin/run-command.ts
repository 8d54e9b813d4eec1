import type { RunReport } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { type Bar, MEASURES, readBar, type ScopeProgress } from "@tourney/core/pipeline";
import * as z from "zod";
import { parseInput } from "../http/parse-input.js";
import { readText } from "./read-text.js";
import { withServices } from "./with-services.js";

const count = (least: number, most: number) =>
  z.coerce.number("is no number").int("is no whole number").min(least).max(most);
const minutes = z.coerce.number("is no number").positive().max(100_000);

const RunFlags = z.object({
  suite: z.string(),
  entrants: z.string(),
  only: z.string().optional(),
  takes: count(1, 20),
  mends: count(0, 5),
  budget: z.coerce.number("is no number").positive().max(1_000_000).optional(),
  unlikeBecause: z.string().trim().min(3, "say it in a few words").max(500).optional(),
  failOn: z.array(z.string()).default([]),
  wait: z.boolean().default(false),
  timeout: minutes,
  patience: minutes,
  json: z.boolean().default(false),
});

const MS_PER_MINUTE = 60_000;

/** Runs a suite with entrants for a script; the exit code says how it ended. */
export async function runPipeline(given: unknown): Promise<void> {
  const flags = parseInput(RunFlags, given, "The command line");
  const bars = flags.failOn.map(toBar);
  if (bars.length > 0 && !flags.wait) throw BARS_NEED_WAITING();
  const [suite, entrants] = await Promise.all([readText(flags.suite), readText(flags.entrants)]);
  await withServices(async ({ pipeline }) => {
    const report = await pipeline.run(
      {
        ...{ suite, entrants, bars, takes: flags.takes, mendRounds: flags.mends, waits: flags.wait },
        only: flags.only?.split(",").map((key) => key.trim()) ?? null,
        budgetUsd: flags.budget ?? null,
        acceptedWhy: flags.unlikeBecause ?? null,
        timeoutMs: flags.timeout * MS_PER_MINUTE,
        patienceMs: flags.patience * MS_PER_MINUTE,
      },
      createProgress(),
    );
    console.log(flags.json ? JSON.stringify(report, null, 2) : describeReport(report));
    process.exitCode = report.exitCode;
  });
}

function toBar(text: string): Bar {
  const bar = readBar(text);
  if (typeof bar !== "string") return bar;
  const measures = Object.entries(MEASURES).map(([name, { words }]) => `${name} (${words})`);
  throw new TourneyError("INVALID_INPUT", {
    message: `--fail-on ${JSON.stringify(text)} is no bound: ${bar}.`,
    reason: `What can be held against a bound: ${measures.join("; ")}.`,
    remedy: "Give it in quotes, as in --fail-on 'broken>5%'. Nothing was sent.",
  });
}

const BARS_NEED_WAITING = () =>
  new TourneyError("INVALID_INPUT", {
    message: "--fail-on is of no use without --wait.",
    reason: "What came of a run is known when it has ended.",
    remedy: "Add --wait. Nothing was sent.",
  });

/** Says on standard error how far it is, whenever that changes. */
function createProgress(): (progress: ScopeProgress) => void {
  let said = "";
  return ({ total, answered, failed, held, underWay, toRecord, paused }) => {
    const parts = [
      `${answered} of ${total} answered`,
      ...(failed > 0 ? [`${failed} failed`] : []),
      ...(held > 0 ? [`${held} held by the budget`] : []),
      ...(underWay > 0 ? [`${underWay} under way`] : []),
      ...(toRecord > 0 ? [`${toRecord} to be recorded`] : []),
      ...(paused > 0 ? [`${paused} of the models do not answer at their endpoint`] : []),
    ];
    const text = parts.join(", ");
    if (text !== said) console.error(text);
    said = text;
  };
}

const ENDS: Readonly<Record<RunReport["end"], string>> = {
  started: "Started.",
  finished: "Finished.",
  spent: "The budget does not cover all of it.",
  endpoint_down: "An endpoint did not answer.",
  below_the_bar: "Below the bar.",
  timed_out: "It took longer than it was given.",
};

/** The report for people: a line for the whole, for each entrant, and for each bound. */
function describeReport({ end, suite, runs, spentUsd, entrants, bars }: RunReport): string {
  const of = runs.length === 0 ? "nothing was missing" : `run ${runs.map(({ number }) => number).join(", ")}`;
  return [
    `${ENDS[end]} ${suite.title}, edition ${suite.edition}, ${of}, $${spentUsd.toFixed(2)}.`,
    ...entrants.map(
      ({ key, planned, pages, none, owed, clean, tried, failures }) =>
        `  ${key}: ${pages} of ${planned} pages, ${clean} of ${tried} work${none > 0 ? `, ${none} without a page` : ""}${owed > 0 ? `, ${owed} owed by the host` : ""}${failures.map(({ message, places }) => `\n    ${places} failed: ${message}`).join("")}`,
    ),
    ...bars.map(({ text, met, failing }) =>
      met
        ? `  ${text}: nobody`
        : `  ${text}: ${failing.map(({ key, value }) => `${key} (${formatValue(text, value)})`).join(", ")}`,
    ),
  ].join("\n");
}

const formatValue = (text: string, value: number): string =>
  text.includes("%") ? `${(value * 100).toFixed(1)}%` : value.toPrecision(3);
