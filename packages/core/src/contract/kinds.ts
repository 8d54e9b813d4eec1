import type { Kind } from "./suite.js";
import type { Reason } from "./voting.js";

/** All that hangs on the kind of a prompt. A kind more does not compile until it is whole. */
export interface KindDescriptor {
  /** As a heading over several. */
  plural: string;
  /** Whether an answer may be an SVG file where the rules name no language; models are told so. */
  mayBeSvg: boolean;
  /** What the recorder tries where no walkthrough says: the keys games are played by, the controls in sight, or nothing. */
  triedInputs: "keys" | "controls" | "none";
  /** Whether the page must fit its window: what hangs over is worth a warning, or only a note. */
  mustFit: boolean;
  /** The reasons that can matter: a drawing has no controls, and a game is not read. */
  reasons: readonly Reason[];
}

export const KINDS: Readonly<Record<Kind, KindDescriptor>> = {
  game: {
    plural: "Games",
    mayBeSvg: false,
    triedInputs: "keys",
    mustFit: true,
    reasons: ["looks", "motion", "controls", "follows-prompt", "legible", "bugs"],
  },
  animation: {
    plural: "Animations",
    mayBeSvg: false,
    triedInputs: "none",
    mustFit: true,
    reasons: ["looks", "motion", "follows-prompt", "bugs"],
  },
  drawing: {
    plural: "Drawings",
    mayBeSvg: true,
    triedInputs: "none",
    mustFit: true,
    reasons: ["looks", "follows-prompt", "bugs"],
  },
  app: {
    plural: "Apps",
    mayBeSvg: false,
    triedInputs: "controls",
    mustFit: false,
    reasons: ["looks", "controls", "follows-prompt", "legible", "bugs"],
  },
};
