import { type BallotInput, type BoothQueue, type BoothState, Bout, watchpointText } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { BoutTally, chooseBout, Exhibition, PAIRING_RULES, type Situation, Teacher } from "@tourney/core/pairing";
import type { Database, Transaction } from "../db/connection.js";
import { stageAddress } from "../exhibit/exhibit-app.js";
import { createToken, hashToken } from "../tokens.js";
import type { BoothRepository, OpenBoutRow, VoterRow } from "./booth-repository.js";
import type { StandingsService } from "../standings/service.js";
import type { PanelRepository, PanelRow } from "./panel-repository.js";

/** The bout on screen and the one that is loaded ahead. */
const OPEN_BOUTS = 2;

interface BoothDeps {
  db: Database;
  panels: PanelRepository;
  booth: BoothRepository;
  standings: StandingsService;
  exhibitOrigin: string;
}

/** What a voter does: join, get bouts, answer, take back. A voter is known by a token that only the browser keeps. */
export function createBoothService({ db, panels, booth, standings, exhibitOrigin }: BoothDeps) {
  async function getPanel(panelToken: string): Promise<PanelRow> {
    const panel = await panels.find("token", panelToken);
    if (panel) return panel;
    throw new TourneyError("NOT_FOUND", {
      message: "This invitation does not work.",
      reason: "The link may have lost a part on its way to you.",
      remedy: "Ask whoever invited you for the whole link.",
    });
  }

  const findVoter = async (panel: PanelRow, voterToken: string | null): Promise<VoterRow | null> =>
    voterToken === null ? null : booth.findVoter(panel.id, hashToken(voterToken));

  async function getVoter(panelToken: string, voterToken: string | null): Promise<VoterRow> {
    const voter = await findVoter(await getPanel(panelToken), voterToken);
    if (voter) return voter;
    throw new TourneyError("NOT_SIGNED_IN", {
      message: "This browser is not known to the panel yet.",
      reason: "Voting begins on the invitation's first page.",
      remedy: "Open the invitation link again and begin there.",
    });
  }

  const describe = (panel: PanelRow, voter: VoterRow | null): BoothState => ({
    panelTitle: panel.title,
    message: panel.message,
    quota: panel.quota,
    done: voter?.done ?? 0,
    known: voter !== null,
    sample: panel.sample,
  });

  async function issueBouts(panel: PanelRow, voter: VoterRow): Promise<{ open: OpenBoutRow[]; exhausted: boolean }> {
    const isEnough = (open: readonly OpenBoutRow[]) =>
      open.length >= OPEN_BOUTS || voter.done + open.length >= voter.quota;
    const before = await booth.listOpenBouts(voter.id);
    if (isEnough(before)) return { open: before, exhausted: false };
    // Fitting takes its time: it is done before others have to wait for this voter's turn to end.
    const rated = await standings.getFit(panel.editionId);
    return db.transact(async (transaction) => {
      await booth.lockPanel(voter.panelId, transaction);
      let open = await booth.listOpenBouts(voter.id, transaction);
      while (!isEnough(open)) {
        const chosen = chooseBout(await readSituation(voter, rated, transaction), Math.random);
        if (chosen === null) return { open, exhausted: true };
        const tokens = { bout: createToken(), left: createToken(), right: createToken() };
        await booth.addBout(voter.id, chosen, tokens, transaction);
        open = await booth.listOpenBouts(voter.id, transaction);
      }
      return { open, exhausted: false };
    });
  }

  async function readSituation(
    voter: VoterRow,
    { fit, numberOf }: Awaited<ReturnType<StandingsService["getFit"]>>,
    transaction: Transaction,
  ): Promise<Situation> {
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
    return {
      exhibition: new Exhibition(candidates),
      tally,
      own,
      knowledge: { teacher, numberOf },
      rules: PAIRING_RULES,
    };
  }

  /** Only these fields leave: nothing here says who made what. */
  const toBout = ({ token, leftToken, rightToken, ordinal, prompt }: OpenBoutRow): Bout =>
    Bout.parse({
      token,
      ordinal,
      prompt: { ...prompt, watchpoints: prompt.watchpoints.map(watchpointText) },
      leftUrl: stageAddress(exhibitOrigin, leftToken),
      rightUrl: stageAddress(exhibitOrigin, rightToken),
    });

  return {
    async getState(panelToken: string, voterToken: string | null): Promise<BoothState> {
      const panel = await getPanel(panelToken);
      return describe(panel, await findVoter(panel, voterToken));
    },
    /** Makes a voter for this browser, or finds the one it is. Resolves with the token to keep, if it is new. */
    async join(panelToken: string, voterToken: string | null, { name, sample }: { name: string; sample: boolean }) {
      const panel = await getPanel(panelToken);
      const known = await findVoter(panel, voterToken);
      if (known) return { state: describe(panel, known), newToken: null };
      const newToken = createToken();
      await booth.addVoter(panel.id, hashToken(newToken), name, sample);
      return { state: describe(panel, await findVoter(panel, newToken)), newToken };
    },
    async getQueue(panelToken: string, voterToken: string | null): Promise<BoothQueue> {
      const panel = await getPanel(panelToken);
      const voter = await getVoter(panelToken, voterToken);
      const { open, exhausted } = await issueBouts(panel, voter);
      const bouts = open.slice(0, OPEN_BOUTS).map(toBout);
      return {
        quota: voter.quota,
        done: voter.done,
        canTakeBack: voter.done > 0,
        bouts,
        exhausted: exhausted && bouts.length === 0,
      };
    },
    /** Stores a ballot. The same ballot again changes nothing; another one for the same bout is refused. */
    async cast(boutToken: string, readToken: (panelToken: string) => string | null, input: BallotInput) {
      const bout = await booth.findBout(boutToken);
      const panel = bout ? await panels.find("id", bout.panelId) : null;
      const voterToken = panel ? readToken(panel.token) : null;
      if (!bout || !panel || voterToken === null || hashToken(voterToken) !== bout.tokenHash) {
        throw new TourneyError("NOT_FOUND", {
          message: "This bout is not one of yours.",
          reason: "A bout can be answered only in the browser that it was shown in.",
          remedy: "Reload the page to get your next bout.",
        });
      }
      if (!(await booth.addBallot(bout.boutId, input))) await refuseOtherBallot(bout.boutId, input);
      const voter = await booth.findVoter(panel.id, bout.tokenHash);
      return { done: voter!.done, quota: voter!.quota };
    },
    async takeBack(panelToken: string, voterToken: string | null) {
      const voter = await getVoter(panelToken, voterToken);
      if (!(await booth.voidLastBallot(voter.id))) {
        throw new TourneyError("CONFLICT", {
          message: "There is no ballot to take back.",
          reason: "You have not cast one yet.",
          remedy: "Choose a notch and confirm it first.",
        });
      }
      return { done: voter.done - 1, quota: voter.quota };
    },
  };

  async function refuseOtherBallot(boutId: string, input: BallotInput): Promise<void> {
    const stored = await booth.findBallot(boutId);
    const isSame =
      stored?.lean === input.lean && stored.leftWorks === input.leftWorks && stored.rightWorks === input.rightWorks;
    if (isSame) return;
    throw new TourneyError("CONFLICT", {
      message: "This bout has been answered already.",
      reason: "Every bout counts once.",
      remedy: "Take the ballot back first if you want to change it.",
    });
  }
}
export type BoothService = ReturnType<typeof createBoothService>;
