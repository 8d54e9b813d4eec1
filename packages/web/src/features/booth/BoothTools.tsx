import type { SkipReason } from "@tourney/core/contract";
import { Kbd } from "../../ui/controls.js";
import type { BoothAction } from "./ballot-draft.js";
import type { Side, useBoutStages } from "./use-bout-stages.js";

/** Why a bout may be passed over, in the order of the digits that choose. */
export const SKIPS: readonly SkipReason[] = ["cannot judge", "not shown properly", "knows who made it", "rather not"];

const SKIP_WORDS: Record<SkipReason, string> = {
  "cannot judge": "I cannot judge these",
  "not shown properly": "they are not shown properly",
  "knows who made it": "I know who made one",
  "rather not": "I would rather not",
};

interface BoothToolsProps {
  stages: ReturnType<typeof useBoutStages>;
  keyboard: Side | null;
  isSkipping: boolean;
  isBusy: boolean;
  act: (action: BoothAction) => void;
  onSkip: (reason: SkipReason) => void;
}

/** What concerns both stages alike: recordings, sound, passing over, and who has the keyboard. */
export function BoothTools({ stages, keyboard, isSkipping, isBusy, act, onSkip }: BoothToolsProps) {
  const tool =
    "-ml-2 flex items-center gap-2 rounded border border-transparent bg-transparent px-2 py-0.5 text-soft hover:text-ink aria-pressed:border-ink aria-pressed:text-ink max-[900px]:min-h-9";
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-1 border-t border-rule pt-2">
      <button
        type="button"
        className={tool}
        aria-pressed={stages.showing === "recordings"}
        onClick={() => act({ type: "recordings" })}
      >
        <Kbd>V</Kbd> recordings
      </button>
      <button type="button" className={tool} aria-pressed={stages.isLoud} onClick={() => act({ type: "sound" })}>
        <Kbd>M</Kbd> {stages.isLoud ? "sound on" : "sound off"}
      </button>
      <button
        type="button"
        className={tool}
        aria-expanded={isSkipping}
        disabled={isBusy}
        onClick={() => act({ type: "skip" })}
      >
        <Kbd>S</Kbd> pass over
      </button>
      {isSkipping ? (
        <div role="group" aria-label="Pass over because" className="flex flex-wrap gap-1.5">
          {SKIPS.map((reason, index) => (
            <button
              key={reason}
              type="button"
              disabled={isBusy}
              onClick={() => onSkip(reason)}
              className="flex items-center gap-1.5 rounded border border-rule bg-sheet px-2 py-0.5 text-[13px] text-ink hover:border-ink max-[900px]:min-h-9"
            >
              <Kbd>{index + 1}</Kbd> {SKIP_WORDS[reason]}
            </button>
          ))}
        </div>
      ) : null}
      <span className="ml-auto">
        <KeyPlate keyboard={keyboard} />
      </span>
    </div>
  );
}

/** Says at all times who has the keyboard. */
export function KeyPlate({ keyboard }: { keyboard: Side | null }) {
  return (
    <p role="status" className="m-0 rounded border border-rule px-2 py-0.5 text-[13px]">
      {keyboard === null ? (
        "Keys: yours"
      ) : (
        <>
          Keys: the {keyboard} page's · <strong>Esc</strong> takes them back
        </>
      )}
    </p>
  );
}
