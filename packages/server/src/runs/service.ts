import { type Run, type RunDetail, RunInput, type RunPlan, type RunRequest } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { composeRequestText, estimateCell, findUnlikeness } from "@tourney/core/generation";
import { wordingOf } from "@tourney/core/suite";
import type { Database, Transaction } from "../db/connection.js";
import type { EntrantService } from "../entrants/service.js";
import type { EntryRepository } from "../entries/repository.js";
import type { GenerationRepository } from "../generations/repository.js";
import type { AddJob } from "../jobs/queue.js";
import type { SuiteService } from "../suites/service.js";
import type { RunRepository } from "./repository.js";

interface RunDeps {
  db: Database;
  runs: RunRepository;
  generations: GenerationRepository;
  entrants: EntrantService;
  suites: SuiteService;
  entries: Pick<EntryRepository, "takeUpAnswers">;
  addJob: AddJob;
}

const UNKNOWN = { inputTokens: null, outputTokens: null, totalMs: null, answers: 0 };

export function createRunService({ db, runs, generations, entrants, suites, entries, addJob }: RunDeps) {
  async function getRow(runId: string, transaction?: Transaction) {
    const run = await runs.find(runId, transaction);
    if (run) return run;
    throw new TourneyError("NOT_FOUND", {
      message: `There is no run ${runId}.`,
      reason: "It may belong to another Tourney.",
      remedy: "Open the Runs page and choose one from the list.",
    });
  }

  async function getDetail(runId: string): Promise<RunDetail> {
    const [run, failures, outcomes, byEntrant, byPrompt, pace, endpoints] = await Promise.all([
      getRow(runId),
      runs.listFailures(runId),
      runs.listOutcomes(runId),
      runs.listEntrantProgress(runId),
      runs.listPromptProgress(runId),
      runs.findPace(runId),
      runs.listEndpoints(runId),
    ]);
    return { ...run, failures, outcomes, byEntrant, byPrompt, endpoints, pace: describePace(run, pace) };
  }

  /** What each chosen entrant has, lacks, and would cost. Entrants that are retired or reached by hand are not sent to. */
  async function plan(request: RunRequest): Promise<RunPlan> {
    const input = RunInput.parse(request);
    const [edition, all, places, earlier] = await Promise.all([
      suites.getEdition(input.editionId),
      entrants.list(),
      runs.listPlaces(input),
      runs.listEarlier(input.entrantIds),
    ]);
    const prompts = edition.prompts.filter(({ id }) => input.promptIds.includes(id));
    const chosen = all.filter(
      ({ id, endpoint, retiredAt }) =>
        input.entrantIds.includes(id) && endpoint.protocol !== "by-hand" && retiredAt === null,
    );
    const requestLength = average(prompts.map((prompt) => composeRequestText(wordingOf(prompt)).length));
    const at = new Date().toISOString();
    const byEntrant = chosen.map(({ id, settings, prices, endpoint }) => {
      const existing = places.find(({ entrantId }) => entrantId === id)?.existing ?? 0;
      const missing = prompts.length * input.takes - existing;
      const known = earlier.find(({ entrantId }) => entrantId === id) ?? UNKNOWN;
      const cell = estimateCell({ requestLength, snapshot: { settings, prices: prices ?? null }, at }, known);
      const concurrency = endpoint.protocol === "by-hand" ? 1 : endpoint.concurrency;
      return {
        entrantId: id,
        missing,
        inputTokens: cell.inputTokens * missing,
        outputTokens: cell.outputTokens * missing,
        costUsd: cell.costUsd === null ? null : cell.costUsd * missing,
        seconds: (cell.seconds * missing) / concurrency,
        basis: cell.basis,
        endpointKey: endpoint.protocol === "by-hand" ? "" : endpoint.baseUrl,
      };
    });
    const wanted = prompts.length * chosen.length * input.takes;
    const missing = byEntrant.reduce((sum, row) => sum + row.missing, 0);
    return {
      wanted,
      existing: wanted - missing,
      missing,
      byEntrant,
      costUsd: byEntrant.reduce((sum, { costUsd }) => sum + (costUsd ?? 0), 0),
      unpriced: byEntrant.filter(({ costUsd }) => costUsd === null).map(({ entrantId }) => entrantId),
      seconds: longestEndpoint(byEntrant),
      unlike: findUnlikeness(chosen),
    };
  }

  const dispatch = (transaction?: Transaction) =>
    addJob("dispatch", {}, { key: "dispatch", ...(transaction === undefined ? {} : { transaction }) });

  /** Applies a change to a run, lets the queue look at it again, and tells open pages. */
  async function change(runId: string, work: () => Promise<unknown>): Promise<RunDetail> {
    await getRow(runId);
    await work();
    await dispatch();
    await generations.announce(runId);
    return getDetail(runId);
  }

  return {
    getDetail,
    plan,
    /** Every request that was sent for a generation, oldest first. */
    listAttempts: (generationId: string) => generations.listAttempts(generationId),
    list: (editionId: string): Promise<Run[]> => runs.list(editionId),
    /** Starts a run over what is missing. @throws TourneyError CONFLICT when nothing is, or when unlike entrants are compared without a word of why. */
    async start(request: RunRequest): Promise<Run> {
      const input = RunInput.parse(request);
      const { byEntrant, unlike } = await plan(input);
      if (unlike.length > 0 && input.acceptedWhy === undefined)
        throw unlikeEntrants(unlike.map(({ message }) => message));
      const estimates = byEntrant.map(({ entrantId, costUsd, missing }) => ({
        entrantId,
        usd: costUsd === null || missing === 0 ? null : costUsd / missing,
      }));
      return db.transact(async (transaction) => {
        const { runId, added } = await runs.create({ ...input, estimates, unlike }, transaction);
        if (added === 0) throw NOTHING_TO_RUN();
        await dispatch(transaction);
        return getRow(runId, transaction);
      });
    },
    /** @throws TourneyError CONFLICT when none of them failed, was cancelled or held. */
    retry: (runId: string, generationIds: readonly string[] | null = null) =>
      change(runId, () =>
        db.transact(async (transaction) => {
          const requeued = await runs.requeue(runId, generationIds, transaction);
          const takenUp = await entries.takeUpAnswers(runId, transaction);
          if (requeued + takenUp === 0) throw NOTHING_TO_RETRY();
        }),
      ),
    cancel: (runId: string) => change(runId, () => runs.cancel(runId)),
    /** Ends the pauses of an endpoint: one request of each model that failed is sent at once, to see. */
    async tryEndpoint(endpointId: string): Promise<{ ended: number }> {
      const ended = await runs.endPauses(endpointId);
      await dispatch();
      return { ended };
    },
    pause: (runId: string) => change(runId, () => runs.setPaused(runId, true)),
    resume: (runId: string) => change(runId, () => runs.setPaused(runId, false)),
    setBudget: (runId: string, budgetUsd: number | null) =>
      change(runId, () => db.transact((transaction) => runs.setBudget(runId, budgetUsd, transaction))),
    /** Adds entrants to a run, finished or not, over the prompts and takes that it has. */
    extend: (runId: string, entrantIds: string[]) =>
      change(runId, async () => {
        const run = await getRow(runId);
        await db.transact(async (transaction) => {
          const promptIds = await runs.findScope(runId, transaction);
          const { editionId, takes, options } = run;
          const { byEntrant } = await plan({ editionId, promptIds, entrantIds, takes, options });
          const estimates = byEntrant.map(({ entrantId, costUsd, missing }) => ({
            entrantId,
            usd: costUsd === null ? null : costUsd / Math.max(1, missing),
          }));
          const added = await runs.addGenerations(runId, { ...run, promptIds, entrantIds, estimates }, transaction);
          if (added === 0) throw NOTHING_TO_RUN();
        });
      }),
  };
}
export type RunService = ReturnType<typeof createRunService>;

const average = (values: readonly number[]) =>
  values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;

/** Endpoints work side by side; the entrants of one share its concurrency. */
function longestEndpoint(rows: readonly { endpointKey: string; seconds: number }[]): number {
  const sums = new Map<string, number>();
  for (const { endpointKey, seconds } of rows) sums.set(endpointKey, (sums.get(endpointKey) ?? 0) + seconds);
  return Math.max(0, ...sums.values());
}

function describePace(
  { counts }: Pick<Run, "counts">,
  { answers, tokens, spanSeconds }: { answers: number; tokens: number; spanSeconds: number | null },
): RunDetail["pace"] {
  const left = counts.queued + counts.running + counts.waiting;
  const span = spanSeconds === null || spanSeconds <= 0 || answers === 0 ? null : spanSeconds;
  return {
    answersPerMinute: span === null ? null : (answers / span) * 60,
    tokensPerSecond: span === null ? null : tokens / span,
    remainingSeconds: span === null || left === 0 ? null : (left * span) / answers,
  };
}

const NOTHING_TO_RUN = () =>
  new TourneyError("CONFLICT", {
    message: "There is nothing to run.",
    reason: "Every chosen cell and take has a generation already, or its entrant is retired or reached by hand.",
    remedy: "Choose more prompts, entrants or takes; or open the run and retry what failed.",
  });

const NOTHING_TO_RETRY = () =>
  new TourneyError("CONFLICT", {
    message: "There is nothing to retry.",
    reason:
      "Only what failed, was cancelled or was held by the budget is sent again. What was answered keeps its answer.",
    remedy: "To ask for an answer again, redo it on the wall or on its entry, with a reason.",
  });

const unlikeEntrants = (messages: readonly string[]) =>
  new TourneyError("CONFLICT", {
    message: `The entrants are not alike: ${messages.join(" ")}`,
    reason: "Entrants with unlike settings are easily taken for better or worse models.",
    remedy: "Make their settings alike, or start the run with a word of why they are compared all the same.",
  });
