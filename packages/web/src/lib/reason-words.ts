import type { Reason } from "@tourney/core/contract";

export const REASON_WORDS: Record<Reason, string> = {
  looks: "how it looks",
  motion: "motion",
  controls: "controls",
  "follows-prompt": "follows the prompt",
  legible: "easy to read",
  bugs: "bugs",
};
