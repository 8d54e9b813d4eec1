import { Kbd } from "../../ui/controls.js";
import { type HeldStage, Stage } from "../../ui/Stage.js";
import { KeyPlate } from "./BoothTools.js";
import type { Showing, Side } from "./use-bout-stages.js";

interface StagePaneProps {
  side: Side;
  url: string;
  viewport: { width: number; height: number };
  restart: number;
  held: HeldStage;
  showing: Showing;
  isForced: boolean;
  isCurtained: boolean;
  /** Whether the page went somewhere else. */
  isGone: boolean;
  isFull: boolean;
  hasKeyboard: boolean;
  works: boolean;
  /** What the page asks a machine for, a sentence each. */
  needs: readonly string[];
  onRestart: () => void;
  onFull: () => void;
  onToggleWorks: () => void;
  onKeyboard: (hasKeyboard: boolean) => void;
}

/** One side of a bout: its stage under the curtain, and its own three controls. Both sides are alike but for their keys. */
export function StagePane(props: StagePaneProps) {
  const {
    side,
    url,
    viewport,
    restart,
    held,
    showing,
    isForced,
    isCurtained,
    isGone,
    isFull,
    hasKeyboard,
    needs,
    onFull,
    onKeyboard,
  } = props;
  return (
    <section aria-label={side === "left" ? "Left" : "Right"} className="min-w-0">
      <div className={isFull ? "fixed inset-0 z-40 grid place-items-center bg-booth p-4" : ""}>
        <div
          className="relative w-full border border-rule"
          style={isFull ? { maxWidth: `min(100%, calc((100vh - 80px) * ${viewport.width / viewport.height}))` } : {}}
        >
          {showing === "nothing" ? (
            <div style={{ aspectRatio: `${viewport.width} / ${viewport.height}` }} />
          ) : (
            <Stage
              url={url}
              title={`${side === "left" ? "Left" : "Right"} page`}
              viewport={viewport}
              restart={restart}
              held={held}
              onFocusChange={onKeyboard}
            />
          )}
          <Cover {...{ showing, isCurtained, isGone }} />
          {isForced && showing === "recordings" && !isCurtained ? (
            <p className="absolute bottom-0 left-0 m-0 bg-booth px-2 py-0.5 text-[13px] text-soft">
              shown as a recording
            </p>
          ) : null}
        </div>
        {isFull ? (
          <div className="mt-2 flex w-full max-w-[1150px] items-center justify-between gap-4">
            <span className="text-soft">The {side} page</span>
            <button type="button" onClick={onFull} className="flex items-center gap-2 border-0 bg-transparent text-ink">
              <Kbd>{side === "left" ? "F" : "J"}</Kbd> back to both
            </button>
            <KeyPlate keyboard={hasKeyboard ? side : null} />
          </div>
        ) : null}
      </div>
      <PaneControls {...props} />
      {needs.length > 0 ? (
        <p className={`mt-1 mb-0 text-[13px] text-soft ${side === "left" ? "" : "text-right"}`}>
          {needs.join(". ")}. If you have none, judge what you can see.
        </p>
      ) : null}
    </section>
  );
}

/** What lies over a stage: the curtain until both are there, and a plate when there is nothing under it. */
function Cover({ showing, isCurtained, isGone }: { showing: Showing; isCurtained: boolean; isGone: boolean }) {
  const text =
    showing === "nothing"
      ? "This bout cannot be shown. Pass it over, please."
      : isCurtained
        ? "Getting both ready …"
        : isGone
          ? "The page went away from here. Restart both to see it again."
          : null;
  if (text === null) return null;
  return <div className="absolute inset-0 grid place-items-center bg-booth px-6 text-center text-soft">{text}</div>;
}

function PaneControls({ side, works, onRestart, onFull, onToggleWorks }: StagePaneProps) {
  const isLeft = side === "left";
  const doesNot = (
    <button
      type="button"
      aria-pressed={!works}
      onClick={onToggleWorks}
      className={`flex items-center gap-2 rounded border px-2 py-0.5 whitespace-nowrap max-[900px]:min-h-9 ${works ? "border-transparent bg-transparent text-ink" : "border-broken bg-sheet font-semibold text-broken"}`}
    >
      <Kbd>{isLeft ? "Q" : "P"}</Kbd> {works ? "Doesn't work" : "✕ Doesn't work"}
    </button>
  );
  const quiet =
    "flex items-center gap-2 border-0 bg-transparent p-0 whitespace-nowrap text-soft hover:text-ink max-[900px]:min-h-9";
  return (
    <div className={`mt-2 flex flex-wrap items-center justify-between gap-x-3 ${isLeft ? "" : "flex-row-reverse"}`}>
      <div className={`flex gap-4 ${isLeft ? "" : "flex-row-reverse"}`}>
        <button type="button" onClick={onRestart} className={quiet}>
          <Kbd>R</Kbd> restart both
        </button>
        <button type="button" onClick={onFull} className={quiet}>
          <Kbd>{isLeft ? "F" : "J"}</Kbd> full view
        </button>
      </div>
      {doesNot}
    </div>
  );
}
