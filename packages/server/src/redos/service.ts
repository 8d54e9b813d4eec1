import { type Redo, type RedoRequest, RunOptions } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { IN_FLIGHT } from "@tourney/core/generation";
import type { Database, Transaction } from "../db/connection.js";
import type { EntryRepository } from "../entries/repository.js";
import type { GenerationStates } from "../generations/generation-states-repository.js";
import type { AddJob } from "../jobs/queue.js";
import type { RunRepository } from "../runs/repository.js";
import type { SuiteService } from "../suites/service.js";
import type { AuditRepository } from "../voting/audit-repository.js";
import type { TellOfBallots } from "../voting/ballot-notice.js";
import type { RedoRepository } from "./repository.js";

interface RedoDeps {
  db: Database;
  redos: RedoRepository;
  runs: RunRepository;
  states: GenerationStates;
  entries: EntryRepository;
  suites: SuiteService;
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
  addJob: AddJob;
}

/** Asks for takes again. What was answered before is superseded: it stays readable, and its ballots are set aside. */
export function createRedoService({
  db,
  redos,
  runs,
  states,
  entries,
  suites,
  audit,
  tellOfBallots,
  addJob,
}: RedoDeps) {
  /** Makes the run that asks again; null where all answers were by hand. */
  async function startRun(redoId: string, { editionId }: RedoRequest, transaction: Transaction) {
    const run = { editionId, takes: 1, options: RunOptions.parse({}), unlike: [], purpose: "redo", redoId } as const;
    const runId = await runs.createEmpty(run, transaction);
    if ((await redos.insertRedone(redoId, runId, transaction)) > 0) return runId;
    await redos.dropRun(runId, transaction);
    return null;
  }

  return {
    list: (editionId: string): Promise<Redo[]> => redos.list(editionId),

    /** @throws TourneyError NOT_FOUND for an unknown edition, CONFLICT when nothing was answered, or a take is on its way. */
    async redo(request: RedoRequest): Promise<Redo> {
      const { editionId, reason } = request;
      await suites.getEdition(editionId);
      const redoId = await db.transact(async (transaction) => {
        const targets = await redos.listTargets(request, transaction);
        if (targets.length === 0) throw NOTHING_TO_REDO();
        const open = targets.find(({ state }) => IN_FLIGHT.includes(state));
        if (open !== undefined) throw onItsWay(open);
        const id = await redos.add(editionId, reason, transaction);
        const ids = targets.map((target) => target.id);
        await redos.supersede(ids, id, transaction);
        const ballots = await entries.voidBallots(
          ids,
          { by: "redo", why: `the take is redone: ${reason}` },
          transaction,
        );
        await startRun(id, request, transaction);
        const detail = { redoId: id, reason, generations: ids.length, ballots };
        await audit.add({ actor: "lead", action: "asked for takes again", detail }, transaction);
        await addJob("dispatch", {}, { key: "dispatch", transaction });
        return id;
      });
      tellOfBallots(editionId);
      return (await redos.find(redoId))!;
    },

    /** Lets the old answers and their ballots hold again. @throws TourneyError CONFLICT when that was done, or another answer holds now. */
    async undo(redoId: string): Promise<Redo> {
      const redo = await redos.find(redoId);
      if (redo === null) throw noRedo(redoId);
      if (redo.undoneAt !== null) throw UNDONE();
      await db.transact(async (transaction) => {
        if (await redos.isOvertaken(redoId, transaction)) throw OVERTAKEN();
        if (!(await redos.markUndone(redoId, transaction))) throw UNDONE();
        await states.cancel({ redoId }, transaction, "The redo was undone.");
        const { oldIds, newIds } = await redos.exchange(redoId, transaction);
        await entries.voidBallots(newIds, { by: "redo", why: "the redo was undone" }, transaction);
        const restored = await entries.restoreBallots(oldIds, "redo", transaction);
        const detail = { redoId, reason: redo.reason, ballots: restored };
        await audit.add({ actor: "lead", action: "let former answers hold again", detail }, transaction);
      });
      tellOfBallots(redo.editionId);
      return (await redos.find(redoId))!;
    },
  };
}
export type RedoService = ReturnType<typeof createRedoService>;

const NOTHING_TO_REDO = () =>
  new TourneyError("CONFLICT", {
    message: "There is nothing to redo.",
    reason: "No take that was chosen has an answer or a failure, as its entrant is set up now.",
    remedy: "Plan a run for what is missing, or choose other cells.",
  });

const onItsWay = ({ title, entrant, take }: { title: string; entrant: string; take: number }) =>
  new TourneyError("CONFLICT", {
    message: `Take ${take} of ${title} by ${entrant} is on its way.`,
    reason: "Asking again while an answer is being made would pay for it twice.",
    remedy: "Wait until it has ended, or cancel its run, then redo it. Nothing was changed.",
  });

const noRedo = (redoId: string) =>
  new TourneyError("NOT_FOUND", {
    message: `There is no redo ${redoId}.`,
    reason: "It may belong to another Tourney.",
    remedy: "Open the run that asked again, or the entry, and undo it from there.",
  });

const UNDONE = () =>
  new TourneyError("CONFLICT", {
    message: "This redo was undone already.",
    reason: "The old answers hold again.",
    remedy: "To ask once more, redo the takes with a new reason.",
  });

const OVERTAKEN = () =>
  new TourneyError("CONFLICT", {
    message: "Another answer holds in its place now.",
    reason: "The takes were redone again, or an answer was imported since; only one answer can hold.",
    remedy: "Undo the later redo first, or redo the imported answer.",
  });
