import { readFile } from "node:fs/promises";
import { setTimeout as sleep } from "node:timers/promises";
import { TourneyError } from "@tourney/core/errors";
import { describeDemoProgress } from "@tourney/core/demo";
import type { Services } from "../services.js";
import { readProgress, SAMPLE_QUOTA } from "./demo-progress.js";
import type { DemoRepository } from "./demo-repository.js";
import { castContestBallots } from "./sample-contests.js";
import { castSampleBallots } from "./sample-voting.js";

const POLL_MS = 500;

export interface SeedOptions {
  suiteFile: string;
  entrantsFile: string;
  /** Where the stand-in endpoint is now. */
  endpoint: string;
  onProgress: (text: string) => void;
}

/**
 * Brings the demo scenario to life through the same services as real work: suite, entrants, one run, one panel, and made-up voters who vote
 * over HTTP while the rows of the wall are recorded. What is there already stays: a demo that was stopped in the middle goes on.
 */
export async function seedDemo(services: Services, options: SeedOptions): Promise<void> {
  const { suites, entrants, runs, panels, demo, blobs } = services;
  await refuseRealWork(services);
  const { edition } = await suites.importSuite(await readFile(options.suiteFile, "utf8"));
  await enterEntrants(services, options);
  const entered = await entrants.list();
  const [run] = await runs.list(edition.id);
  const { id } =
    run ??
    (await runs.start({
      editionId: edition.id,
      takes: 1,
      options: { mendRounds: 1 },
      promptIds: edition.prompts.map((prompt) => prompt.id),
      entrantIds: entered.map((entrant) => entrant.id),
    }));
  const [
    panel = await panels.add(
      {
        editionId: edition.id,
        title: "Museum staff",
        quota: SAMPLE_QUOTA,
        message: "Which would you rather have on the gallery screen?",
      },
      true,
    ),
  ] = await panels.list(edition.id);
  const made = new AbortController();
  const told = tellProgress(demo, options.onProgress, made.signal);
  try {
    await Promise.all([waitForAnswers(services, id), castSampleBallots(panel.url, { demo, blobs, runId: id })]);
    await castContestBallots(services, edition);
  } finally {
    made.abort();
    await told;
  }
}

/** Tells how far it is until it is made. */
async function tellProgress(
  demo: DemoRepository,
  onProgress: (text: string) => void,
  signal: AbortSignal,
): Promise<void> {
  while (!signal.aborted) {
    const progress = await readProgress(demo);
    if (progress !== null) onProgress(describeDemoProgress(progress));
    await sleep(POLL_MS, null, { signal }).catch(() => null);
  }
}

/** The database may be one that somebody works on: sample data never joins what is none. */
async function refuseRealWork({ entrants }: Services): Promise<void> {
  const present = await entrants.list();
  // Someone who tries the demo may have entered one of their own beside the samples.
  if (present.length === 0 || present.some(({ sample }) => sample)) return;
  throw new TourneyError("CONFLICT", {
    message: `The database holds real work: ${present.length} entrants and no sample, ${present[0]!.name} first.`,
    reason: "The demo enters sample data, which would mix with it.",
    remedy: "Name another database for the demo, or start this one with `./tourney start`. Nothing was changed.",
  });
}

/** Enters the file's entrants at the stand-in's present address, which differs from the file's when that port was taken. */
async function enterEntrants(
  { entrants, moveEndpoint }: Services,
  { entrantsFile, endpoint }: SeedOptions,
): Promise<void> {
  const present = await entrants.list();
  for (const { sample, endpoint: known } of present) {
    if (sample && known.protocol !== "by-hand" && known.baseUrl !== endpoint)
      await moveEndpoint(known.baseUrl, endpoint);
  }
  if (present.length > 0) return;
  const yaml = await readFile(entrantsFile, "utf8");
  await entrants.importEntrants(yaml.replaceAll(/baseUrl: "[^"]*"/g, `baseUrl: "${endpoint}"`));
}

async function waitForAnswers({ runs }: Services, runId: string): Promise<void> {
  for (;;) {
    const { counts, failures } = await runs.getDetail(runId);
    const isAnswered = counts.waiting + counts.queued + counts.running === 0;
    // The made-up models refuse and fail as real ones do; only a run without any answer is a demo that does not work.
    if (isAnswered && counts.answered === 0) {
      const failure = failures[0]!;
      throw new TourneyError("ENDPOINT_REFUSED", {
        message: `${counts.failed} of ${counts.total} generations failed.`,
        reason: `${failure.places[0]?.entrantName ?? "?"}, ${failure.places[0]?.promptTitle ?? "?"}: ${failure.message}`,
        remedy: "Open the run on the Runs page and retry it.",
      });
    }
    if (isAnswered) return;
    await sleep(POLL_MS);
  }
}
