import { type BallotInput, type Kind, KINDS, type Reason } from "@tourney/core/contract";
import { LEAN_WORDS } from "../../lib/lean-words.js";
import { REASON_WORDS } from "../../lib/reason-words.js";

/** A ballot while it is being made. */
export interface BallotDraft {
  /** −2 … 2, or null before a notch is chosen. */
  lean: number | null;
  leftWorks: boolean;
  rightWorks: boolean;
  reasons: readonly Reason[];
  note: string;
  /** Whether either page was used. */
  leftTouched: boolean;
  rightTouched: boolean;
}

export const EMPTY_DRAFT: BallotDraft = {
  lean: null,
  leftWorks: true,
  rightWorks: true,
  reasons: [],
  note: "",
  leftTouched: false,
  rightTouched: false,
};

export const NOTCHES: readonly { lean: number; label: string }[] = LEAN_WORDS.map((label, index) => ({
  lean: index - 2,
  label,
}));

/** What can be a reason for a prompt's kind; motion also for a drawing or an app of which a turn asks that it moves. */
export function reasonsFor({ kind, motion }: { kind: Kind; motion: boolean }): { reason: Reason; word: string }[] {
  const { reasons } = KINDS[kind];
  const all: readonly Reason[] =
    motion && !reasons.includes("motion") ? [reasons[0]!, "motion", ...reasons.slice(1)] : reasons;
  return all.map((reason) => ({ reason, word: REASON_WORDS[reason] }));
}

export type DraftEvent =
  | { type: "lean"; lean: number }
  | { type: "toggleLeftWorks" }
  | { type: "toggleRightWorks" }
  | { type: "toggleReason"; reason: Reason }
  | { type: "note"; note: string }
  | { type: "touch"; side: "left" | "right" };

/** The next draft. */
export function nextDraft(draft: BallotDraft, event: DraftEvent): BallotDraft {
  switch (event.type) {
    case "lean":
      return { ...draft, lean: event.lean };
    case "toggleLeftWorks":
      return { ...draft, leftWorks: !draft.leftWorks };
    case "toggleRightWorks":
      return { ...draft, rightWorks: !draft.rightWorks };
    case "toggleReason": {
      const has = draft.reasons.includes(event.reason);
      return {
        ...draft,
        reasons: has ? draft.reasons.filter((reason) => reason !== event.reason) : [...draft.reasons, event.reason],
      };
    }
    case "note":
      return { ...draft, note: event.note };
    case "touch":
      return { ...draft, [event.side === "left" ? "leftTouched" : "rightTouched"]: true };
  }
}

/** What a key does in the booth, or null when it does nothing. */
export type BoothAction =
  | DraftEvent
  | { type: "confirm" }
  | { type: "takeBack" }
  | { type: "restart" }
  | { type: "recordings" }
  | { type: "sound" }
  | { type: "skip" }
  | { type: "fullView"; side: "left" | "right" };

export function actionOfKey(key: string): BoothAction | null {
  const notch = /^[1-5]$/.test(key) ? NOTCHES[Number(key) - 1] : undefined;
  if (notch) return { type: "lean", lean: notch.lean };
  switch (key.toLowerCase()) {
    case "q":
      return { type: "toggleLeftWorks" };
    case "p":
      return { type: "toggleRightWorks" };
    case "r":
      return { type: "restart" };
    case "f":
      return { type: "fullView", side: "left" };
    case "j":
      return { type: "fullView", side: "right" };
    case "v":
      return { type: "recordings" };
    case "m":
      return { type: "sound" };
    case "s":
      return { type: "skip" };
    case "enter":
      return { type: "confirm" };
    case "backspace":
      return { type: "takeBack" };
    default:
      return null;
  }
}

/** The ballot to send, or null while no notch is chosen. */
export function toBallot(
  draft: BallotDraft,
  { dwellMs, seenWith }: Pick<BallotInput, "dwellMs" | "seenWith">,
): BallotInput | null {
  if (draft.lean === null) return null;
  return {
    ...draft,
    lean: draft.lean,
    reasons: [...draft.reasons],
    note: draft.note.trim(),
    dwellMs: Math.max(0, Math.round(dwellMs)),
    seenWith,
  };
}
