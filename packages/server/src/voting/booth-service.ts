import { createHmac, randomUUID } from "node:crypto";
import {
  type BallotInput,
  type BallotReceipt,
  type BoothQueue,
  type BoothState,
  Bout,
  type SkipReason,
  watchpointText,
} from "@tourney/core/contract";
import { MASK_VERSION } from "@tourney/stage";
import type { Stamps } from "../changes/changes.js";
import type { Database } from "../db/connection.js";
import { STAGE_RECORDING, stageAddress } from "../exhibit/stage-address.js";
import type { StandingsService } from "../standings/service.js";
import { createToken, deriveKey, hashToken } from "../tokens.js";
import type { AuditRepository } from "./audit-repository.js";
import type { TellOfBallots } from "./ballot-notice.js";
import { BOOTH_PROBLEMS } from "./booth-problems.js";
import type { BallotRow, VoterRow } from "./booth-queries.sql.js";
import type { BoothRepository } from "./booth-repository.js";
import { createBoutSituations, type PanelSituation } from "./bout-situations.js";
import type { BoothPanel } from "./panel-queries.sql.js";
import type { PanelRepository } from "./panel-repository.js";
import { invitationUrl } from "./panel-service.js";
import { countDone, listOpen, OPEN_BOUTS, type OpenBout, planTurn, withdraw } from "./plan-turn.js";
import type { Turn } from "./turn.js";
import type { NewBallot, TurnRepository } from "./turn-repository.js";

/** So many bouts a voter may pass over, and as many more as were answered. */
const FREE_SKIPS = 20;
/** So often a turn is begun anew when other turns of the same voter come in between. */
const MOST_ATTEMPTS = 5;

interface BoothDeps {
  db: Database;
  panels: PanelRepository;
  booth: BoothRepository;
  turns: TurnRepository;
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
  standings: StandingsService;
  stageOrigin: string;
  appOrigin: string;
  /** How many may come to a panel by its open link from one address. */
  joinsFromOnePlace: number;
  secret: string;
}

/** Who asks: the token that a browser keeps, if it has one, and whether the lead is signed in there. */
export interface Caller {
  voterToken: string | null;
  isLead: boolean;
  /** The network address that the request came from. */
  address: string;
}

type ReadToken = (panelToken: string) => string | null;

/** What a voter does: join, get bouts, answer, pass over, take back. A voter is known by a token that only the browser keeps. */
export function createBoothService(deps: BoothDeps) {
  const { db, panels, booth, turns, audit, tellOfBallots, stageOrigin, appOrigin, joinsFromOnePlace, secret } = deps;
  const key = deriveKey(secret, "where voters came from");
  // Kept to count by; from what is kept nobody's address can be had again.
  const tellApart = (text: string) => createHmac("sha256", key).update(text).digest("base64url").slice(0, 22);
  const situations = createBoutSituations(deps);

  async function getPanel(panelToken: string): Promise<BoothPanel> {
    const panel = await panels.findForBooth(panelToken);
    if (panel) return panel;
    throw BOOTH_PROBLEMS.noSuchPanel();
  }

  /** Who passes over bout after bout picks what is compared. */
  async function refuseChoosing(voterId: string): Promise<void> {
    const { answered, passedOver } = await booth.countAnswers(voterId);
    if (passedOver >= FREE_SKIPS + answered) throw BOOTH_PROBLEMS.passedOverTooOften(passedOver);
  }

  const findVoter = async (panel: BoothPanel, voterToken: string | null): Promise<VoterRow | null> =>
    voterToken === null ? null : booth.findVoter(panel.id, hashToken(voterToken));

  const describe = (panel: BoothPanel, voter: VoterRow | null, caller: Caller): BoothState => ({
    panelTitle: panel.title,
    message: panel.message,
    quota: panel.quota,
    done: voter?.done ?? 0,
    known: voter !== null,
    isLead: caller.isLead,
    closed: panel.closed,
    asksReasons: panel.asksReasons,
    ownUrl:
      voter === null || caller.voterToken === null ? null : invitationUrl(appOrigin, panel.token, caller.voterToken),
    sample: panel.sample,
  });

  async function readTurnOfVoter(panelToken: string, voterToken: string | null): Promise<Turn> {
    const turn = voterToken === null ? null : await turns.readByVoter(panelToken, hashToken(voterToken));
    if (turn === null) {
      await getPanel(panelToken);
      throw BOOTH_PROBLEMS.unknownVoter();
    }
    refuseRevoked(turn);
    return turn;
  }

  /** The turn of the voter that a bout was shown to, with the bout. */
  async function readTurnOfBout(boutToken: string, readToken: ReadToken) {
    const turn = await turns.readByBout(boutToken);
    const voterToken = turn ? readToken(turn.panelToken) : null;
    const bout = turn?.bouts.find(({ token }) => token === boutToken);
    if (!turn || !bout || voterToken === null || hashToken(voterToken) !== turn.tokenHash)
      throw BOOTH_PROBLEMS.notYours();
    refuseRevoked(turn);
    if (turn.closed) throw BOOTH_PROBLEMS.closed();
    return { turn, bout };
  }

  /** Stores a ballot, if there is one, and issues the bouts that the voter gets next. */
  async function takeTurn(first: Turn, ballot: NewBallot | null): Promise<BoothQueue> {
    // Fitting takes its time: it is done before anything is stored.
    const shared = first.closed ? null : await situations.get(first);
    let turn = first;
    let due = ballot;
    for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
      if (due && (await isCastAlready(turn, due))) due = null;
      const answered = due ? answer(turn.bouts, due.boutId) : turn.bouts;
      const bouts = shared ? withdraw(answered, shared) : answered;
      const { issue, exhausted } = shared ? planTurn({ quota: turn.quota, bouts }, shared) : NOTHING_TO_ISSUE;
      const isIdle = due === null && issue.length === 0;
      const stored = isIdle
        ? { isCast: false, issued: 0 }
        : await turns.store({ voterId: turn.voterId, issue, ballot: due });
      if (stored.isCast || issue.some(({ losesUnseen }) => losesUnseen !== null)) tellOfBallots(turn.editionId);
      if (stored.isCast) due = null;
      if (due === null && stored.issued === issue.length) {
        const shown = issue.filter(({ losesUnseen }) => losesUnseen === null);
        const open = shared ? [...listOpen(bouts), ...shown].slice(0, OPEN_BOUTS) : [];
        const done = countDone(bouts);
        return {
          quota: turn.quota,
          done,
          canTakeBack: done > 0 && !turn.closed,
          bouts: open.map((bout) => toBout(stageOrigin, bout, shared!)),
          exhausted: exhausted && open.length === 0,
        };
      }
      turn = (await turns.readAgain(turn.voterId))!;
    }
    throw BOOTH_PROBLEMS.tooManyAtOnce();
  }

  /** @throws TourneyError CONFLICT when the bout has another ballot, or was passed over. */
  async function isCastAlready({ bouts }: Turn, { boutId, ...input }: NewBallot): Promise<boolean> {
    const bout = bouts.find(({ id }) => id === boutId);
    if (bout?.state === "skipped") throw BOOTH_PROBLEMS.answeredAlready();
    if (bout?.state !== "answered") return false;
    if (!isSame(await booth.findBallot(boutId), input)) throw BOOTH_PROBLEMS.answeredAlready();
    return true;
  }

  return {
    follow(changes: Stamps) {
      situations.follow(changes);
    },
    async getState(panelToken: string, caller: Caller): Promise<BoothState> {
      const panel = await getPanel(panelToken);
      return describe(panel, await findVoter(panel, caller.voterToken), caller);
    },
    /** Makes a voter for this browser, or finds the one it is. Resolves with the token to keep, if it is new. */
    async join(panelToken: string, caller: Caller, { name, sample }: { name: string; sample: boolean }) {
      const panel = await getPanel(panelToken);
      const known = await findVoter(panel, caller.voterToken);
      if (known) return { state: describe(panel, known, caller), newToken: null };
      if (!panel.linkOpen) throw BOOTH_PROBLEMS.noNewVoters();
      const newToken = createToken();
      const joinedFrom = tellApart(`${panel.id} ${caller.address}`);
      const voter = { name, sample, isLead: caller.isLead, joinedFrom, most: joinsFromOnePlace };
      if (!(await booth.addVoter(panel.id, hashToken(newToken), voter)))
        throw BOOTH_PROBLEMS.tooManyFromOnePlace(joinsFromOnePlace);
      const own = { ...caller, voterToken: newToken };
      return { state: describe(panel, await findVoter(panel, newToken), own), newToken };
    },
    /** The voter of a personal link, from now on in this browser too. */
    async resume(panelToken: string, caller: Caller & { voterToken: string }): Promise<BoothState> {
      const panel = await getPanel(panelToken);
      const voter = await findVoter(panel, caller.voterToken);
      if (voter === null) throw BOOTH_PROBLEMS.noSuchLink();
      refuseRevoked(voter);
      return describe(panel, voter, caller);
    },
    async getQueue(panelToken: string, voterToken: string | null): Promise<BoothQueue> {
      return takeTurn(await readTurnOfVoter(panelToken, voterToken), null);
    },
    /** Stores a ballot. The same ballot again changes nothing; another one for the same bout is refused. */
    async cast(boutToken: string, readToken: ReadToken, input: BallotInput): Promise<BallotReceipt> {
      const { turn, bout } = await readTurnOfBout(boutToken, readToken);
      return receiptOf(
        await takeTurn(turn, { id: randomUUID(), boutId: bout.id, ...input, maskVersion: MASK_VERSION }),
      );
    },
    /** Passes a bout over. The same again changes nothing. */
    async skip(boutToken: string, readToken: ReadToken, reason: SkipReason): Promise<BallotReceipt> {
      const { turn, bout } = await readTurnOfBout(boutToken, readToken);
      if (bout.state !== "skipped") await refuseChoosing(turn.voterId);
      if (
        bout.state !== "skipped" &&
        !(await db.transact((transaction) => booth.skipBout(bout.id, reason, transaction)))
      )
        throw BOOTH_PROBLEMS.answeredAlready();
      return receiptOf(await takeTurn((await turns.readAgain(turn.voterId))!, null));
    },
    async takeBack(panelToken: string, voterToken: string | null): Promise<BallotReceipt> {
      const { voterId, panelId, editionId, closed } = await readTurnOfVoter(panelToken, voterToken);
      if (closed) throw BOOTH_PROBLEMS.nothingToTakeBack("The voting is closed.", "Your ballots count as they are.");
      await db.transact(async (transaction) => {
        await booth.lockVoter(voterId, transaction);
        const boutId = await booth.voidLastBallot(voterId, transaction);
        if (boutId === null) {
          const remedy = "Choose a notch and confirm it first.";
          throw BOOTH_PROBLEMS.nothingToTakeBack("You have not cast one yet.", remedy);
        }
        const action = "took back a ballot";
        await audit.add({ actor: "voter", action, panelId, voterId, detail: { boutId } }, transaction);
      });
      tellOfBallots(editionId);
      return receiptOf(await takeTurn((await turns.readAgain(voterId))!, null));
    },
  };
}

const NOTHING_TO_ISSUE: ReturnType<typeof planTurn> = { issue: [], exhausted: false };

/** The bouts as they are once one of them has been answered. */
const answer = (bouts: Turn["bouts"], boutId: string): Turn["bouts"] =>
  bouts.map((bout) => (bout.id === boutId ? { ...bout, state: "answered" } : bout));

const isSame = (stored: BallotRow | null, input: BallotInput): boolean =>
  stored?.lean === input.lean && stored.leftWorks === input.leftWorks && stored.rightWorks === input.rightWorks;

const receiptOf = (queue: BoothQueue): BallotReceipt => ({ done: queue.done, quota: queue.quota, queue });

const addressesOf = <Side extends "left" | "right">(stageOrigin: string, side: Side, token: string) =>
  ({
    [`${side}Url`]: stageAddress(stageOrigin, token),
    [`${side}RecordingUrl`]: stageAddress(stageOrigin, token, STAGE_RECORDING),
  }) as Record<`${Side}Url` | `${Side}RecordingUrl`, string>;

/** Only these fields leave: nothing here says who made what. */
function toBout(
  stageOrigin: string,
  { token, leftToken, rightToken, ordinal, promptId, left, right }: OpenBout,
  { prompts, needsOf }: Pick<PanelSituation, "prompts" | "needsOf">,
): Bout {
  const prompt = prompts.get(promptId)!;
  return Bout.parse({
    token,
    ordinal,
    prompt: {
      ...prompt,
      turns: prompt.turns.map(({ text }) => text),
      watchpoints: prompt.watchpoints.map(watchpointText),
    },
    ...addressesOf(stageOrigin, "left", leftToken),
    ...addressesOf(stageOrigin, "right", rightToken),
    leftNeeds: needsOf(left.entryId),
    rightNeeds: needsOf(right.entryId),
  });
}

/** @throws TourneyError NOT_ALLOWED for a voter whose access the lead has ended. */
function refuseRevoked({ revoked }: { revoked: boolean }): void {
  if (revoked) throw BOOTH_PROBLEMS.revoked();
}

export type BoothService = ReturnType<typeof createBoothService>;
