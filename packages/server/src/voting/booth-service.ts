import {
  BallotInput,
  type BallotReceipt,
  type BoothQueue,
  type BoothState,
  Bout,
  type SkipReason,
  watchpointText,
} from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { chooseBout, PAIRING_RULES } from "@tourney/core/pairing";
import { MASK_VERSION } from "@tourney/stage";
import type { Database, Transaction } from "../db/connection.js";
import { STAGE_RECORDING, stageAddress } from "../exhibit/stage-address.js";
import type { StandingsService } from "../standings/service.js";
import { createToken, hashToken } from "../tokens.js";
import type { AuditRepository } from "./audit-repository.js";
import type { TellOfBallots } from "./ballot-notice.js";
import type { BoothRepository, OpenBoutRow, VoterRow } from "./booth-repository.js";
import { createBoutSituations, noteBout, type PanelSituation } from "./bout-situations.js";
import type { BoothPanel, PanelRepository } from "./panel-repository.js";
import { invitationUrl } from "./panel-service.js";

/** The bout on screen and the one that is loaded ahead. */
const OPEN_BOUTS = 2;

interface BoothDeps {
  db: Database;
  panels: PanelRepository;
  booth: BoothRepository;
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
  standings: StandingsService;
  stageOrigin: string;
  appOrigin: string;
}

/** Who asks: the token that a browser keeps, if it has one, and whether the lead is signed in there. */
export interface Caller {
  voterToken: string | null;
  isLead: boolean;
}

/** What a voter does: join, get bouts, answer, pass over, take back. A voter is known by a token that only the browser keeps. */
export function createBoothService({
  db,
  panels,
  booth,
  audit,
  tellOfBallots,
  standings,
  stageOrigin,
  appOrigin,
}: BoothDeps) {
  const situations = createBoutSituations({ booth, standings });

  async function getPanel(panelToken: string): Promise<BoothPanel> {
    const panel = await panels.findForBooth("token", panelToken);
    if (panel) return panel;
    throw new TourneyError("NOT_FOUND", {
      message: "This invitation does not work.",
      reason: "The link may have lost a part on its way to you.",
      remedy: "Ask whoever invited you for the whole link.",
    });
  }

  const findVoter = async (panel: BoothPanel, voterToken: string | null): Promise<VoterRow | null> =>
    voterToken === null ? null : booth.findVoter(panel.id, hashToken(voterToken));

  async function getVoter(panel: BoothPanel, voterToken: string | null): Promise<VoterRow> {
    const voter = await findVoter(panel, voterToken);
    if (voter === null) {
      throw new TourneyError("NOT_SIGNED_IN", {
        message: "This browser is not known to the panel yet.",
        reason: "Voting begins on the invitation's first page.",
        remedy: "Open the invitation link again and begin there.",
      });
    }
    refuseRevoked(voter);
    return voter;
  }

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

  /** The bout on screen and the next one, issued if need be. The voter's row is locked. */
  async function issueBouts(
    { voter, shared }: { voter: VoterRow; shared: PanelSituation },
    transaction: Transaction,
  ): Promise<{ open: OpenBoutRow[]; exhausted: boolean }> {
    const isEnough = (open: readonly OpenBoutRow[]) =>
      open.length >= OPEN_BOUTS || voter.done + open.length >= voter.quota;
    let open = await booth.listOpenBouts(voter.id, transaction);
    while (!isEnough(open)) {
      const own = await booth.listOwnBouts(voter.id, transaction);
      const chosen = chooseBout({ ...shared, own, rules: PAIRING_RULES }, Math.random);
      if (chosen === null) return { open, exhausted: true };
      noteBout(shared, chosen.promptId, chosen.left.entrantId, chosen.right.entrantId);
      const [left, right] = [shared.isBroken(chosen.left.entryId), shared.isBroken(chosen.right.entryId)];
      const isAutomatic = shared.losesUnseen && left !== right;
      const tokens = { bout: createToken(), left: createToken(), right: createToken() };
      const boutId = await booth.addBout(voter.id, { ...chosen, isAutomatic }, tokens, transaction);
      if (isAutomatic)
        await booth.addBallot(boutId, lossOf(left ? "left" : "right"), { maskVersion: null }, transaction);
      else open = await booth.listOpenBouts(voter.id, transaction);
    }
    return { open, exhausted: false };
  }

  /** Does something for a voter, whose turn it is alone meanwhile, and says what comes next: both in one transaction. */
  async function inTurn(
    panel: BoothPanel,
    { id, tokenHash }: { id: string; tokenHash: string },
    work?: (transaction: Transaction) => Promise<void>,
  ): Promise<BoothQueue> {
    // Fitting takes its time: it is done before the voter's turn begins.
    const shared = panel.closed ? null : await situations.get(panel);
    const queue = await db.transact(async (transaction) => {
      await booth.lockVoter(id, transaction);
      await work?.(transaction);
      const voter = (await booth.findVoter(panel.id, tokenHash, transaction))!;
      const { open, exhausted } =
        shared === null ? { open: [], exhausted: false } : await issueBouts({ voter, shared }, transaction);
      const bouts = open.slice(0, OPEN_BOUTS).map((bout) => toBout(stageOrigin, bout));
      return {
        quota: voter.quota,
        done: voter.done,
        canTakeBack: voter.done > 0 && !panel.closed,
        bouts,
        exhausted: exhausted && bouts.length === 0,
      };
    });
    if (work) tellOfBallots(panel.editionId);
    return queue;
  }

  const receiptOf = (queue: BoothQueue): BallotReceipt => ({ done: queue.done, quota: queue.quota, queue });

  /** The bout of a token with its panel, for the voter that it was shown to. */
  async function getOwnBout(boutToken: string, readToken: (panelToken: string) => string | null) {
    const bout = await booth.findBout(boutToken);
    const panel = bout ? await panels.findForBooth("id", bout.panelId) : null;
    const voterToken = panel ? readToken(panel.token) : null;
    if (!bout || !panel || voterToken === null || hashToken(voterToken) !== bout.tokenHash) {
      throw new TourneyError("NOT_FOUND", {
        message: "This bout is not one of yours.",
        reason: "A bout can be answered only in the browser that it was shown in.",
        remedy: "Reload the page to get your next bout.",
      });
    }
    refuseRevoked(bout);
    if (panel.closed) {
      throw new TourneyError("CONFLICT", {
        message: "The voting is closed.",
        reason: "Its closing time has passed. Your earlier ballots count.",
        remedy: "There is nothing left to do; you can close this page.",
      });
    }
    return { bout, panel };
  }

  return {
    async getState(panelToken: string, caller: Caller): Promise<BoothState> {
      const panel = await getPanel(panelToken);
      return describe(panel, await findVoter(panel, caller.voterToken), caller);
    },
    /** Makes a voter for this browser, or finds the one it is. Resolves with the token to keep, if it is new. */
    async join(panelToken: string, caller: Caller, { name, sample }: { name: string; sample: boolean }) {
      const panel = await getPanel(panelToken);
      const known = await findVoter(panel, caller.voterToken);
      if (known) return { state: describe(panel, known, caller), newToken: null };
      if (!panel.linkOpen) {
        throw new TourneyError("NOT_ALLOWED", {
          message: "This invitation takes no new voters.",
          reason: "Whoever made it has closed it.",
          remedy: "Ask for a link of your own.",
        });
      }
      const newToken = createToken();
      await booth.addVoter(panel.id, hashToken(newToken), { name, sample, isLead: caller.isLead });
      const own = { ...caller, voterToken: newToken };
      return { state: describe(panel, await findVoter(panel, newToken), own), newToken };
    },
    /** The voter of a personal link, from now on in this browser too. */
    async resume(panelToken: string, caller: Caller & { voterToken: string }): Promise<BoothState> {
      const panel = await getPanel(panelToken);
      const voter = await findVoter(panel, caller.voterToken);
      if (voter === null) {
        throw new TourneyError("NOT_FOUND", {
          message: "This personal link does not work.",
          reason: "It belongs to no voter of the panel; it may have lost a part on its way to you.",
          remedy: "Ask whoever invited you for the whole link.",
        });
      }
      refuseRevoked(voter);
      return describe(panel, voter, caller);
    },
    async getQueue(panelToken: string, voterToken: string | null): Promise<BoothQueue> {
      const panel = await getPanel(panelToken);
      const { id } = await getVoter(panel, voterToken);
      return inTurn(panel, { id, tokenHash: hashToken(voterToken!) });
    },
    /** Stores a ballot. The same ballot again changes nothing; another one for the same bout is refused. */
    async cast(boutToken: string, readToken: (panelToken: string) => string | null, input: BallotInput) {
      const { bout, panel } = await getOwnBout(boutToken, readToken);
      const queue = await inTurn(panel, { id: bout.voterId, tokenHash: bout.tokenHash }, async (transaction) => {
        const added = await booth.addBallot(bout.boutId, input, { maskVersion: MASK_VERSION }, transaction);
        if (!added) await refuseOtherBallot(bout.boutId, input, transaction);
      });
      return receiptOf(queue);
    },
    /** Passes a bout over. The same again changes nothing. */
    async skip(boutToken: string, readToken: (panelToken: string) => string | null, reason: SkipReason) {
      const { bout, panel } = await getOwnBout(boutToken, readToken);
      const queue = await inTurn(panel, { id: bout.voterId, tokenHash: bout.tokenHash }, async (transaction) => {
        if (!bout.skipped && !(await booth.skipBout(bout.boutId, reason, transaction))) throw answeredAlready();
      });
      return receiptOf(queue);
    },
    async takeBack(panelToken: string, voterToken: string | null) {
      const panel = await getPanel(panelToken);
      const { id } = await getVoter(panel, voterToken);
      const queue = await inTurn(panel, { id, tokenHash: hashToken(voterToken!) }, async (transaction) => {
        const boutId = panel.closed ? null : await booth.voidLastBallot(id, transaction);
        if (boutId === null) {
          throw new TourneyError("CONFLICT", {
            message: "There is no ballot to take back.",
            reason: panel.closed ? "The voting is closed." : "You have not cast one yet.",
            remedy: panel.closed ? "Your ballots count as they are." : "Choose a notch and confirm it first.",
          });
        }
        await audit.add({ actor: "voter", action: "took back a ballot", voterId: id, detail: { boutId } }, transaction);
      });
      return receiptOf(queue);
    },
  };

  async function refuseOtherBallot(boutId: string, input: BallotInput, transaction: Transaction): Promise<void> {
    const stored = await booth.findBallot(boutId, transaction);
    const isSame =
      stored?.lean === input.lean && stored.leftWorks === input.leftWorks && stored.rightWorks === input.rightWorks;
    if (!isSame) throw answeredAlready();
  }
}
const addressesOf = <Side extends "left" | "right">(stageOrigin: string, side: Side, token: string) =>
  ({
    [`${side}Url`]: stageAddress(stageOrigin, token),
    [`${side}RecordingUrl`]: stageAddress(stageOrigin, token, STAGE_RECORDING),
  }) as Record<`${Side}Url` | `${Side}RecordingUrl`, string>;

/** Only these fields leave: nothing here says who made what. */
const toBout = (stageOrigin: string, { token, leftToken, rightToken, ordinal, prompt }: OpenBoutRow): Bout =>
  Bout.parse({
    token,
    ordinal,
    prompt: { ...prompt, watchpoints: prompt.watchpoints.map(watchpointText) },
    ...addressesOf(stageOrigin, "left", leftToken),
    ...addressesOf(stageOrigin, "right", rightToken),
  });

const answeredAlready = () =>
  new TourneyError("CONFLICT", {
    message: "This bout has been answered already.",
    reason: "Every bout counts once.",
    remedy: "Take the ballot back first if you want to change it.",
  });

/** @throws TourneyError NOT_ALLOWED for a voter whose access the lead has ended. */
function refuseRevoked({ revoked }: { revoked: boolean }): void {
  if (!revoked) return;
  throw new TourneyError("NOT_ALLOWED", {
    message: "This invitation has ended.",
    reason: "Whoever invited you has ended it. What you voted so far is kept.",
    remedy: "Ask them for a new one if you think that is a mistake.",
  });
}

/** What is counted where an entry that shows nothing loses without being shown. */
const lossOf = (side: "left" | "right"): BallotInput =>
  BallotInput.parse({
    lean: side === "left" ? 2 : -2,
    leftWorks: side !== "left",
    rightWorks: side !== "right",
    dwellMs: 0,
  });

export type BoothService = ReturnType<typeof createBoothService>;
