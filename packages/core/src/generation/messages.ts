import type { FollowUp, PromptDefinition } from "../contract/index.js";
import { composeRequestText } from "./request-text.js";

/** A turn that was answered: a stage (mend round 0) or a follow-up on one. */
export interface AnsweredTurn {
  stage: number;
  mendRound: number;
  answer: string;
  followUp: FollowUp | null;
}

interface Message {
  role: "user" | "assistant";
  content: string;
}

/**
 * The conversation that is sent for a stage or a follow-up: each turn before it as request and answer, then its own request.
 * @param turns the answered turns of the same take before this one, in order.
 */
export function composeMessages({
  prompt,
  stage,
  turns,
  followUp,
}: {
  prompt: PromptDefinition;
  stage: number;
  turns: readonly AnsweredTurn[];
  followUp: FollowUp | null;
}): Message[] {
  const before = turns.flatMap((turn): Message[] => [
    { role: "user", content: turn.followUp?.text ?? stageText(prompt, turn.stage) },
    { role: "assistant", content: turn.answer },
  ]);
  return [...before, { role: "user", content: followUp?.text ?? stageText(prompt, stage) }];
}

/** What is sent for a stage, counted from 1: the prompt itself first, then its follow-up turns. */
function stageText(prompt: PromptDefinition, stage: number): string {
  return stage === 1 ? composeRequestText(prompt) : `${prompt.stages[stage - 2]?.text.trim() ?? ""}\n`;
}
