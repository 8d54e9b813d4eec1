import type { Correction, MendRequest } from "@tourney/core/contract";
import { RunOptions } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { composeMendText } from "@tourney/core/generation";
import type * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import type { AddJob } from "../jobs/queue.js";
import type { RunRepository } from "../runs/repository.js";
import type { SuiteRepository } from "../suites/repository.js";
import type { FollowUpRepository } from "./follow-up-repository.js";

interface FollowUpDeps {
  db: Database;
  followUps: FollowUpRepository;
  runs: RunRepository;
  suites: SuiteRepository;
  addJob: AddJob;
}

/** What the lead sends after the first answers: an entry's own errors, or words of the lead's. Each batch is a run of its own. */
export function createFollowUpService({ db, followUps, runs, suites, addJob }: FollowUpDeps) {
  /** Makes a run for follow-ups; one to which nothing was added is not kept. */
  const inRun = (
    { editionId, take, purpose }: { editionId: string; take: number; purpose: "mends" | "correction" },
    add: (runId: string, transaction: Transaction) => Promise<number>,
  ): Promise<number> =>
    db.transact(async (transaction) => {
      const run = { editionId, takes: take, options: RunOptions.parse({}), unlike: [], purpose };
      const sent = await add(await runs.createEmpty(run, transaction), transaction);
      if (sent === 0) throw NOBODY_TO_ASK[purpose]();
      await addJob("dispatch", {}, { key: "dispatch", transaction });
      return sent;
    });

  return {
    /** Sends one typed follow-up alike to every entrant that has answered a prompt, or to those that are named. */
    async sendCorrection(promptId: string, input: z.output<typeof Correction>): Promise<{ sent: number }> {
      const { text, take, entrantIds = null } = input;
      const editionId = await suites.findEditionOfPrompt(promptId);
      if (editionId === null) throw NOBODY_TO_ASK.correction();
      const followUp = { kind: "correction", text, toSome: entrantIds !== null } as const;
      const sent = await inRun({ editionId, take, purpose: "correction" }, async (runId, transaction) => {
        const rounds = await followUps.listNewestRounds(promptId, take, entrantIds, transaction);
        let added = 0;
        for (const { id } of rounds) if (await followUps.add(id, followUp, { runId, transaction })) added++;
        return added;
      });
      return { sent };
    },

    /** Feeds entries with errors their own errors back, once each. */
    async sendMends(request: MendRequest): Promise<{ sent: number }> {
      const { editionId, take } = request;
      const sent = await inRun({ editionId, take, purpose: "mends" }, async (runId, transaction) => {
        let added = 0;
        for (const { generationId, mendTemplate, findings } of await followUps.listMendable(request, transaction)) {
          const text = composeMendText(mendTemplate, findings);
          if (text !== null && (await followUps.add(generationId, { kind: "mend", text }, { runId, transaction })))
            added++;
        }
        return added;
      });
      return { sent };
    },
  };
}
export type FollowUpService = ReturnType<typeof createFollowUpService>;

const NOBODY_TO_ASK = {
  correction: () =>
    new TourneyError("CONFLICT", {
      message: "Nobody can be asked.",
      reason: "A correction follows an answer, and no entrant has answered this prompt and take over an endpoint.",
      remedy: "Run the prompt first.",
    }),
  mends: () =>
    new TourneyError("CONFLICT", {
      message: "There is nothing to mend.",
      reason:
        "A mend feeds errors back that a recording found; none of these entries has any, or its next round is on its way.",
      remedy: "Record the entries first, or correct them in words of your own.",
    }),
};
