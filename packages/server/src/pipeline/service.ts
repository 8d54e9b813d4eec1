import { setTimeout as sleep } from "node:timers/promises";
import {
  type Edition,
  type Entrant,
  EXIT_CODES,
  type PipelineEnd,
  type PipelineEntrant,
  type Run,
  RUN_REPORT_FORMAT,
  type RunReport,
} from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { type Bar, findEnd, findFailing, isSettled, isStuck, type ScopeProgress } from "@tourney/core/pipeline";
import { summarizeCells } from "@tourney/core/standings";
import type { EntrantService } from "../entrants/service.js";
import type { RunService } from "../runs/service.js";
import type { SuiteService } from "../suites/service.js";
import type { WallService } from "../wall/service.js";
import type { PipelineRepository, PipelineScope } from "./repository.js";

/** What a script asks for. */
export interface PipelineRequest {
  /** The texts of the two files. */
  suite: string;
  entrants: string;
  /** Keys of prompts; all of the suite unless given. */
  only: readonly string[] | null;
  takes: number;
  budgetUsd: number | null;
  mendRounds: number;
  /** Why unlike entrants are compared. */
  acceptedWhy: string | null;
  bars: readonly Bar[];
  /** Whether to come back only when nothing more happens by itself. */
  waits: boolean;
  /** The longest wait altogether, and the longest for an endpoint that does not answer. */
  timeoutMs: number;
  patienceMs: number;
}

interface PipelineDeps {
  pipeline: PipelineRepository;
  suites: SuiteService;
  entrants: EntrantService;
  runs: RunService;
  wall: WallService;
}

const POLL_MS = 1000;

/** Runs prompts with models for a script, waits, and says what came of it. */
export function createPipelineService({ pipeline, suites, entrants, runs, wall }: PipelineDeps) {
  /** Asks for what is missing, and again for what failed. @returns the runs that do it */
  async function start(scope: PipelineScope, request: PipelineRequest): Promise<Run[]> {
    const started: Run[] = [];
    const { acceptedWhy, budgetUsd, mendRounds } = request;
    const failed = await pipeline.listFailed(scope);
    if ((await runs.plan(scope)).missing > 0) {
      started.push(
        await runs.start({
          ...scope,
          options: { mendRounds },
          ...(budgetUsd === null ? {} : { budgetUsd }),
          ...(acceptedWhy === null ? {} : { acceptedWhy }),
        }),
      );
    }
    for (const runId of new Set(failed.map((row) => row.runId))) {
      const ids = failed.filter((row) => row.runId === runId).map(({ id }) => id);
      if (budgetUsd !== null) await runs.setBudget(runId, budgetUsd);
      started.push(await runs.retry(runId, ids));
    }
    return started;
  }

  /** Waits until nothing more happens by itself. What waits for an endpoint that does not answer is cancelled, so that nothing is asked, and paid, later. */
  async function wait(
    scope: PipelineScope,
    started: readonly Run[],
    { timeoutMs, patienceMs, onProgress }: PipelineRequest & { onProgress: (progress: ScopeProgress) => void },
  ): Promise<{ wasStuck: boolean; timedOut: boolean }> {
    const begun = Date.now();
    let stuckSince: number | null = null;
    for (;;) {
      const progress = await pipeline.findProgress(scope);
      onProgress(progress);
      if (isSettled(progress)) return { wasStuck: false, timedOut: false };
      const now = Date.now();
      if (now - begun > timeoutMs) return { wasStuck: false, timedOut: true };
      stuckSince = isStuck(progress) ? (stuckSince ?? now) : null;
      if (stuckSince !== null && now - stuckSince > patienceMs) {
        for (const { id } of started) await runs.cancel(id);
        return { wasStuck: true, timedOut: false };
      }
      await sleep(POLL_MS);
    }
  }

  async function describeEntrants(scope: PipelineScope, chosen: readonly Entrant[]): Promise<PipelineEntrant[]> {
    const [tallies, findings, failed] = await Promise.all([
      wall.tallyByPrompt(scope.editionId, scope.takes),
      pipeline.listFindings(scope),
      pipeline.listFailed(scope),
    ]);
    return chosen.map(({ id, key, name, model, version, versionId }) => {
      const own = tallies.filter((tally) => tally.versionId === versionId && scope.promptIds.includes(tally.promptId));
      const { delivery, costPerEntryUsd, medianTotalMs } = summarizeCells(own);
      const sum = (read: (tally: (typeof own)[number]) => number) =>
        own.reduce((total, tally) => total + read(tally), 0);
      return {
        ...{ key, name, model, version, planned: scope.promptIds.length * scope.takes },
        ...{ ...delivery, clean: sum(({ clean }) => clean), tried: sum(({ tried }) => tried), costPerEntryUsd },
        medianSeconds: medianTotalMs === null ? null : medianTotalMs / 1000,
        findings: findings
          .filter(({ entrantId }) => entrantId === id)
          .map(({ rule, severity, entries }) => ({ rule, severity, entries })),
        failures: countFailures(failed.filter(({ entrantId }) => entrantId === id)),
      };
    });
  }

  return {
    /**
     * Runs the prompts of a suite file with the entrants of an entrants file, as far as there are no answers yet.
     *
     * @throws TourneyError INVALID_FILE, CONFLICT for unlike entrants without a word of why, NOT_FOUND for a prompt that is not in the suite
     */
    async run(request: PipelineRequest, onProgress: (progress: ScopeProgress) => void): Promise<RunReport> {
      const { edition } = await suites.importSuite(request.suite);
      const prompts = choosePrompts(edition, request.only);
      const taken = await entrants.importEntrants(request.entrants);
      const chosen = taken.entrants.filter(
        ({ endpoint, retiredAt }) => endpoint.protocol !== "by-hand" && retiredAt === null,
      );
      if (chosen.length === 0) throw NOBODY_TO_ASK();
      const scope: PipelineScope = {
        editionId: edition.id,
        promptIds: prompts.map(({ id }) => id),
        entrantIds: chosen.map(({ id }) => id),
        takes: request.takes,
      };
      const started = await start(scope, request);
      const waited = request.waits ? await wait(scope, started, { ...request, onProgress }) : null;
      const described = await describeEntrants(scope, chosen);
      const bars = request.bars.map((bar) => {
        const failing = findFailing(bar, described);
        return { text: bar.text, met: failing.length === 0, failing };
      });
      const end = endOf(waited, await pipeline.findProgress(scope), bars);
      const ran = await Promise.all(started.map(({ id }) => runs.getDetail(id)));
      return {
        ...{ format: RUN_REPORT_FORMAT, madeAt: new Date().toISOString(), end, exitCode: EXIT_CODES[end] },
        suite: { key: edition.suiteKey, title: edition.suiteTitle, edition: edition.number, digest: edition.digest },
        runs: ran.map(({ id, number }) => ({ id, number })),
        prompts: prompts.map(({ key }) => key),
        takes: request.takes,
        spentUsd: ran.reduce((sum, { costUsd }) => sum + costUsd, 0),
        entrants: described,
        bars,
      };
    },
  };
}

function endOf(
  waited: { wasStuck: boolean; timedOut: boolean } | null,
  progress: ScopeProgress,
  bars: RunReport["bars"],
): PipelineEnd {
  if (waited === null) return "started";
  if (waited.timedOut) return "timed_out";
  return findEnd(progress, { wasStuck: waited.wasStuck, areBarsMet: bars.every(({ met }) => met) });
}

function choosePrompts({ prompts }: Edition, only: readonly string[] | null): Edition["prompts"] {
  const unknown = only?.find((key) => !prompts.some((prompt) => prompt.key === key));
  if (unknown === undefined) return only === null ? prompts : prompts.filter(({ key }) => only.includes(key));
  throw new TourneyError("NOT_FOUND", {
    message: `There is no prompt ${unknown} in the suite.`,
    reason: `Its prompts are ${prompts.map(({ key }) => key).join(", ")}.`,
    remedy: "Name prompts by their keys, as in --only tide-table,lock-keeper. Nothing was sent.",
  });
}

const NOBODY_TO_ASK = () =>
  new TourneyError("CONFLICT", {
    message: "The entrants file has nobody to send to.",
    reason: "All of its entrants are retired or reached by hand.",
    remedy: "Give an entrants file with an endpoint. Nothing was sent.",
  });

function countFailures(
  failed: readonly { cause: PipelineEntrant["failures"][number]["cause"]; message: string }[],
): PipelineEntrant["failures"] {
  const counted = new Map<string, PipelineEntrant["failures"][number]>();
  for (const { cause, message } of failed) {
    const before = counted.get(`${cause} ${message}`);
    counted.set(`${cause} ${message}`, { cause, message, places: (before?.places ?? 0) + 1 });
  }
  return [...counted.values()].sort((a, b) => b.places - a.places);
}
