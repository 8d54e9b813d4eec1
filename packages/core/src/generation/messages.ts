import type { FollowUp, Wording } from "../contract/index.js";
import { composeRequestText } from "./request-text.js";

/** What was asked and answered before: a turn of the prompt (round 0), or a follow-up on one. */
export interface AnsweredTurn {
  turn: number;
  round: number;
  answer: string;
  followUp: FollowUp | null;
}

interface Message {
  role: "user" | "assistant";
  content: string;
}

/**
 * The conversation that is sent for a turn or a follow-up: everything asked and answered before it, then its own request.
 * @param answered the answered turns of the same take before this one, in order.
 */
export function composeMessages({
  wording,
  turn,
  answered,
  followUp,
}: {
  wording: Wording;
  turn: number;
  answered: readonly AnsweredTurn[];
  followUp: FollowUp | null;
}): Message[] {
  const before = answered.flatMap((earlier): Message[] => [
    { role: "user", content: earlier.followUp?.text ?? turnText(wording, earlier.turn) },
    { role: "assistant", content: earlier.answer },
  ]);
  return [...before, { role: "user", content: followUp?.text ?? turnText(wording, turn) }];
}

/** What is sent for a turn, counted from 1: the prompt itself first, then its follow-up requests. */
function turnText(wording: Wording, turn: number): string {
  return turn === 1 ? composeRequestText(wording) : `${wording.turns[turn - 2]?.text.trim() ?? ""}\n`;
}
