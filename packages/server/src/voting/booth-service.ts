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
import { BoutTally, chooseBout, Exhibition, PAIRING_RULES, type Situation, Teacher } from "@tourney/core/pairing";
import { MASK_VERSION } from "@tourney/stage";
import type { Database, Transaction } from "../db/connection.js";
import { STAGE_RECORDING, stageAddress } from "../exhibit/stage-address.js";
import type { StandingsService } from "../standings/service.js";
import { createToken, hashToken } from "../tokens.js";
import type { AuditRepository } from "./audit-repository.js";
import type { BoothRepository, OpenBoutRow, VoterRow } from "./booth-repository.js";
import type { BoothPanel, PanelRepository } from "./panel-repository.js";
import { invitationUrl } from "./panel-service.js";

/** The bout on screen and the one that is loaded ahead. */
const OPEN_BOUTS = 2;

interface BoothDeps {
  db: Database;
  panels: PanelRepository;
  booth: BoothRepository;
  audit: AuditRepository;
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
export function createBoothService({ db, panels, booth, audit, standings, stageOrigin, appOrigin }: BoothDeps) {
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
    name: voter?.name ?? "",
    isLead: caller.isLead,
    closed: panel.closed,
    asksReasons: panel.asksReasons,
    ownUrl:
      voter === null || caller.voterToken === null ? null : invitationUrl(appOrigin, panel.token, caller.voterToken),
    sample: panel.sample,
  });

  async function issueBouts(panel: BoothPanel, voter: VoterRow): Promise<{ open: OpenBoutRow[]; exhausted: boolean }> {
    const isEnough = (open: readonly OpenBoutRow[]) =>
      open.length >= OPEN_BOUTS || voter.done + open.length >= voter.quota;
    if (panel.closed) return { open: [], exhausted: false };
    const before = await booth.listOpenBouts(voter.id);
    if (isEnough(before)) return { open: before, exhausted: false };
    // Fitting takes its time: it is done before others have to wait for this voter's turn to end.
    const rated = await standings.getFit(panel.editionId);
    return db.transact(async (transaction) => {
      await booth.lockPanel(voter.panelId, transaction);
      let open = await booth.listOpenBouts(voter.id, transaction);
      while (!isEnough(open)) {
        const { situation, isBroken, losesUnseen } = await readSituation(voter, rated, transaction);
        const chosen = chooseBout(situation, Math.random);
        if (chosen === null) return { open, exhausted: true };
        const [left, right] = [isBroken(chosen.left.entryId), isBroken(chosen.right.entryId)];
        const isAutomatic = losesUnseen && left !== right;
        const tokens = { bout: createToken(), left: createToken(), right: createToken() };
        const boutId = await booth.addBout(voter.id, { ...chosen, isAutomatic }, tokens, transaction);
        if (isAutomatic)
          await booth.addBallot(boutId, lossOf(left ? "left" : "right"), { maskVersion: null }, transaction);
        else open = await booth.listOpenBouts(voter.id, transaction);
      }
      return { open, exhausted: false };
    });
  }

  async function readSituation(
    voter: VoterRow,
    { fit, numberOf }: Awaited<ReturnType<StandingsService["getFit"]>>,
    transaction: Transaction,
  ): Promise<{ situation: Situation; isBroken: (entryId: string) => boolean; losesUnseen: boolean }> {
    const candidates = await booth.listCandidates(voter.panelId, transaction);
    const own = await booth.listOwnBouts(voter.id, transaction);
    const tally = new BoutTally();
    const teacher = new Teacher(fit);
    for (const { promptId, leftEntrantId, rightEntrantId, n, open } of await booth.countBouts(
      voter.panelId,
      transaction,
    )) {
      tally.add(promptId, leftEntrantId, rightEntrantId, n);
      // What others are looking at now will teach the same: it is not asked twice.
      for (let i = 0; i < open; i++) teacher.expect(numberOf.get(leftEntrantId)!, numberOf.get(rightEntrantId)!);
    }
    const broken = new Set(candidates.flatMap(({ entryId, isBroken }) => (isBroken ? [entryId] : [])));
    return {
      situation: {
        exhibition: new Exhibition(candidates),
        tally,
        own,
        knowledge: { teacher, numberOf },
        rules: PAIRING_RULES,
      },
      isBroken: (entryId) => broken.has(entryId),
      losesUnseen: await booth.losesUnseen(voter.panelId, transaction),
    };
  }

  async function getQueue(panel: BoothPanel, voter: VoterRow): Promise<BoothQueue> {
    const { open, exhausted } = await issueBouts(panel, voter);
    const bouts = open.slice(0, OPEN_BOUTS).map(toBout);
    return {
      quota: voter.quota,
      done: voter.done,
      canTakeBack: voter.done > 0 && !panel.closed,
      bouts,
      exhausted: exhausted && bouts.length === 0,
    };
  }

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

  async function receive(panel: BoothPanel, tokenHash: string): Promise<BallotReceipt> {
    const voter = (await booth.findVoter(panel.id, tokenHash))!;
    return { done: voter.done, quota: voter.quota, queue: await getQueue(panel, voter) };
  }

  const addressesOf = (side: "left" | "right", token: string) => ({
    [`${side}Url`]: stageAddress(stageOrigin, token),
    [`${side}RecordingUrl`]: stageAddress(stageOrigin, token, STAGE_RECORDING),
  });

  /** Only these fields leave: nothing here says who made what. */
  const toBout = ({ token, leftToken, rightToken, ordinal, prompt }: OpenBoutRow): Bout =>
    Bout.parse({
      token,
      ordinal,
      prompt: { ...prompt, watchpoints: prompt.watchpoints.map(watchpointText) },
      ...addressesOf("left", leftToken),
      ...addressesOf("right", rightToken),
    });

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
      return getQueue(panel, await getVoter(panel, voterToken));
    },
    /** Stores a ballot. The same ballot again changes nothing; another one for the same bout is refused. */
    async cast(boutToken: string, readToken: (panelToken: string) => string | null, input: BallotInput) {
      const { bout, panel } = await getOwnBout(boutToken, readToken);
      const added = await booth.addBallot(bout.boutId, input, { maskVersion: MASK_VERSION });
      if (!added) await refuseOtherBallot(bout.boutId, input);
      return receive(panel, bout.tokenHash);
    },
    /** Passes a bout over. The same again changes nothing. */
    async skip(boutToken: string, readToken: (panelToken: string) => string | null, reason: SkipReason) {
      const { bout, panel } = await getOwnBout(boutToken, readToken);
      if (!bout.skipped && !(await booth.skipBout(bout.boutId, reason))) throw answeredAlready();
      return receive(panel, bout.tokenHash);
    },
    async takeBack(panelToken: string, voterToken: string | null) {
      const panel = await getPanel(panelToken);
      const voter = await getVoter(panel, voterToken);
      await db.transact(async (transaction) => {
        const boutId = panel.closed ? null : await booth.voidLastBallot(voter.id, transaction);
        if (boutId === null) {
          throw new TourneyError("CONFLICT", {
            message: "There is no ballot to take back.",
            reason: panel.closed ? "The voting is closed." : "You have not cast one yet.",
            remedy: panel.closed ? "Your ballots count as they are." : "Choose a notch and confirm it first.",
          });
        }
        await audit.add(
          { actor: "voter", action: "took back a ballot", voterId: voter.id, detail: { boutId } },
          transaction,
        );
      });
      return receive(panel, hashToken(voterToken!));
    },
  };

  async function refuseOtherBallot(boutId: string, input: BallotInput): Promise<void> {
    const stored = await booth.findBallot(boutId);
    const isSame =
      stored?.lean === input.lean && stored.leftWorks === input.leftWorks && stored.rightWorks === input.rightWorks;
    if (!isSame) throw answeredAlready();
  }
}
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
