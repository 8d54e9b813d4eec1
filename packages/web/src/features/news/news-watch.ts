import { describeGoal } from "@tourney/core/conclusions";
import type { Panel, Run, StoppingState } from "@tourney/core/contract";
import { count } from "../../lib/format.js";

/** What goes on by itself for an edition. */
export interface Ongoing {
  runs: readonly Run[];
  panels: readonly Panel[];
  /** The plan by which voting ends; undefined while it is not known. */
  stopping?: StoppingState | undefined;
}

/** Something that ended or stands still while the lead was elsewhere. */
export interface News {
  title: string;
  detail: string;
  /** Where more is said. */
  to: string;
  isTrouble: boolean;
}

/** A run in which nothing moves for so long stands still. */
export const RUN_STILL_MS = 5 * 60_000;
/** A panel of which nobody votes for so long stands still. */
export const PANEL_STILL_MS = 24 * 60 * 60_000;

/** Compares what goes on with what went on at the last look, and tells of each end and each standstill once. */
export class NewsWatch {
  private last: { ongoing: Ongoing; nowMs: number } | null = null;
  private readonly moved = new Map<string, { state: string; atMs: number; isTold: boolean }>();

  /** The first look tells nothing: what had ended by then is no news. */
  look(ongoing: Ongoing, nowMs: number): News[] {
    const { last } = this;
    this.last = { ongoing, nowMs };
    const still = ongoing.runs.flatMap((run) => this.findStill(run, nowMs));
    if (last === null) return still;
    const ofRuns = ongoing.runs.flatMap((run) => {
      const before = last.ongoing.runs.find(({ id }) => id === run.id);
      return before === undefined ? [] : compareRuns(before, run);
    });
    const ofPanels = ongoing.panels.flatMap((panel) => {
      const before = last.ongoing.panels.find(({ id }) => id === panel.id);
      return before === undefined ? [] : comparePanels({ panel: before, nowMs: last.nowMs }, { panel, nowMs });
    });
    return [...ofRuns, ...ofPanels, ...comparePlans(last.ongoing.stopping, ongoing.stopping), ...still];
  }

  private findStill(run: Run, nowMs: number): News[] {
    const { id, number, counts, pausedAt } = run;
    const isMeantToMove = pausedAt === null && (isSending(run) || (!isOpen(run) && owesRecordings(run)));
    const state = JSON.stringify([isMeantToMove, counts]);
    const known = this.moved.get(id);
    if (known?.state !== state) this.moved.set(id, { state, atMs: nowMs, isTold: false });
    else if (isMeantToMove && !known.isTold && nowMs - known.atMs >= RUN_STILL_MS) {
      known.isTold = true;
      const owed = [
        ...(isOpen(run) ? [count(counts.queued + counts.waiting + counts.running, "answer")] : []),
        ...(owesRecordings(run) ? [count(counts.toRecord - counts.recorded, "recording")] : []),
      ];
      return [
        {
          title: `Run ${number} stands still`,
          detail: `Nothing has moved for five minutes; owed: ${owed.join(" and ")}.`,
          to: `/runs/${id}`,
          isTrouble: true,
        },
      ];
    }
    return [];
  }
}

const isOpen = ({ counts: { waiting, queued, running } }: Run) => waiting + queued + running > 0;
/** What is held for want of budget does not move. */
const isSending = ({ counts: { waiting, queued, running, held } }: Run) => waiting + queued + running > held;
const owesRecordings = ({ counts: { recorded, toRecord } }: Run) => recorded < toRecord;

function compareRuns(before: Run, run: Run): News[] {
  const { id, number, counts } = run;
  const about = { to: `/runs/${id}`, isTrouble: false };
  const news: News[] = [];
  if (isOpen(before) && !isOpen(run)) {
    const lost = counts.failed + counts.untaken;
    news.push({
      ...about,
      title: run.cancelledAt === null ? `Run ${number} has ended` : `Run ${number} was cancelled`,
      detail: `${counts.answered} of ${count(counts.total, "answer")} came${lost > 0 ? `, ${lost} failed` : ""}.`,
      isTrouble: lost > 0,
    });
  }
  if (before.counts.held === 0 && counts.held > 0)
    news.push({
      ...about,
      title: `Run ${number} has spent its budget`,
      detail: `${count(counts.held, "answer")} will not be asked for until there is more.`,
      isTrouble: true,
    });
  if (!isOpen(run) && !owesRecordings(run) && (isOpen(before) || owesRecordings(before)) && counts.toRecord > 0)
    news.push({
      ...about,
      title: `Run ${number} is recorded`,
      detail: `${count(counts.recorded, "page")} can be looked at.`,
      to: "/wall",
    });
  return news;
}

/** A plan's end is told once: that it is met, or that its last look was taken without. */
function comparePlans(before: StoppingState | undefined, now: StoppingState | undefined): News[] {
  const plan = now?.plan;
  if (!plan || !now.isOver || before?.plan?.id !== plan.id || before.isOver) return [];
  const isMet = now.metAfter !== null;
  return [
    {
      title: isMet ? "The stopping plan is met" : "The stopping plan ends without being met",
      detail: isMet
        ? `${describeGoal(plan.goal)} after ${now.metAfter} ballots: voting can stop.`
        : `After ${plan.mostBallots} ballots it cannot be said that ${describeGoal(plan.goal)}.`,
      to: "/standings",
      isTrouble: !isMet,
    },
  ];
}

const isDone = ({ voters, quota }: Panel) => {
  const asked = voters.filter(({ revoked }) => !revoked);
  return asked.length > 0 && asked.every(({ ballots }) => ballots >= quota);
};

const hasClosed = ({ closesAt }: Panel, nowMs: number): boolean => closesAt !== null && Date.parse(closesAt) <= nowMs;

function comparePanels(
  before: { panel: Panel; nowMs: number },
  { panel, nowMs }: { panel: Panel; nowMs: number },
): News[] {
  const about = { to: "/voting" };
  if (isDone(panel))
    return isDone(before.panel)
      ? []
      : [
          {
            ...about,
            title: `${panel.title}: every voter is done`,
            detail: `${count(panel.ballots, "ballot")} by ${count(panel.voters.length, "voter")}.`,
            isTrouble: false,
          },
        ];
  const open = panel.voters.filter(({ ballots, revoked }) => !revoked && ballots < panel.quota).length;
  const owed = `${count(open, "voter")} ${open === 1 ? "is" : "are"} not done.`;
  if (hasClosed(panel, nowMs))
    // As it was known then: a panel that is closed at once has a time before the last look.
    return hasClosed(before.panel, before.nowMs)
      ? []
      : [{ ...about, title: `${panel.title} has closed`, detail: owed, isTrouble: open > 0 }];
  const lastAt = Math.max(
    ...panel.voters.map(({ lastBallotAt }) => (lastBallotAt === null ? 0 : Date.parse(lastBallotAt))),
  );
  if (lastAt <= 0 || nowMs - lastAt < PANEL_STILL_MS || before.nowMs - lastAt >= PANEL_STILL_MS) return [];
  return [
    {
      ...about,
      title: `${panel.title}: nobody has voted for a day`,
      detail: owed,
      isTrouble: true,
    },
  ];
}
