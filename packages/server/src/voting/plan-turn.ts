import { randomUUID } from "node:crypto";
import { chooseBout, type ChosenBout, type OwnBout, PAIRING_RULES } from "@tourney/core/pairing";
import type { Random } from "@tourney/core/random";
import { createToken } from "../tokens.js";
import { noteBout, type PanelSituation } from "./bout-situations.js";
import type { NewBout, Turn, TurnBout } from "./turn.js";

/** The bout on screen and the one that is loaded ahead. */
export const OPEN_BOUTS = 2;

/** What is needed of a bout to show it. */
export type OpenBout = Pick<NewBout, "token" | "leftToken" | "rightToken" | "ordinal" | "promptId" | "left" | "right">;

/** Bouts that wait for the voter's answer, in order. */
export const listOpen = (bouts: readonly TurnBout[]): TurnBout[] =>
  bouts.filter(({ state }) => state === "open").toSorted((a, b) => a.ordinal - b.ordinal);

/** Takes open bouts back whose entries the panel does not show any more, as when the lead has kept one from voters. */
export const withdraw = (bouts: readonly TurnBout[], { isShown }: Pick<PanelSituation, "isShown">): TurnBout[] =>
  bouts.map((bout) =>
    bout.state === "open" && !(isShown(bout.left.entryId) && isShown(bout.right.entryId))
      ? { ...bout, state: "returned" }
      : bout,
  );

/** Ballots that the voter cast. */
export const countDone = (bouts: readonly TurnBout[]): number =>
  bouts.filter(({ state, isAutomatic }) => state === "answered" && !isAutomatic).length;

/** What was passed over or never shown is, like a repeat, not shown once more. */
const toOwn = ({ promptId, left, right, isRepeat, isAutomatic, state }: TurnBout): OwnBout => ({
  promptId,
  left,
  right,
  isRepeat: isRepeat || isAutomatic || state === "skipped",
});

/**
 * Chooses what a voter gets next, so that two bouts are open or the quota is full. Whatever is chosen is noted in what the panel's voters share.
 *
 * @returns the bouts to issue, those that are decided without being shown among them, and whether nothing is left to choose.
 */
export function planTurn(
  { quota, bouts }: Pick<Turn, "quota" | "bouts">,
  shared: PanelSituation,
  random: Random = Math.random,
): { issue: NewBout[]; exhausted: boolean } {
  const own = bouts.toSorted((a, b) => a.ordinal - b.ordinal).map(toOwn);
  let wanted = Math.min(OPEN_BOUTS, quota - countDone(bouts)) - listOpen(bouts).length;
  let ordinal = Math.max(0, ...bouts.map((bout) => bout.ordinal));
  const issue: NewBout[] = [];
  while (wanted > 0) {
    const chosen = chooseBout({ ...shared, own, rules: PAIRING_RULES }, random);
    if (chosen === null) return { issue, exhausted: true };
    noteBout(shared, chosen);
    const losesUnseen = sideThatLosesUnseen(chosen, shared);
    ordinal += 1;
    const tokens = { token: createToken(), leftToken: createToken(), rightToken: createToken() };
    issue.push({ id: randomUUID(), ordinal, ...tokens, ...chosen, losesUnseen });
    own.push({ ...chosen, isRepeat: chosen.isRepeat || losesUnseen !== null });
    if (losesUnseen === null) wanted -= 1;
  }
  return { issue, exhausted: false };
}

function sideThatLosesUnseen(chosen: ChosenBout, shared: PanelSituation): "left" | "right" | null {
  const [left, right] = [shared.losesUnseen(chosen.left.entryId), shared.losesUnseen(chosen.right.entryId)];
  if (left === right) return null;
  return left ? "left" : "right";
}
