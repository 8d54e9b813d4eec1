import { Kbd } from "../../ui/controls.js";
import { Stage } from "../../ui/Stage.js";

interface StagePaneProps {
  side: "left" | "right";
  url: string;
  viewport: { width: number; height: number };
  restart: number;
  isCurtained: boolean;
  isFull: boolean;
  works: boolean;
  onReady: () => void;
  onRestart: () => void;
  onFull: () => void;
  onToggleWorks: () => void;
  onKeyboard: (hasKeyboard: boolean) => void;
}

/** One side of a bout: its stage under the curtain, and its own three controls. Both sides are alike but for their keys. */
export function StagePane(props: StagePaneProps) {
  const { side, url, viewport, restart, isCurtained, isFull, onReady, onFull, onKeyboard } = props;
  return (
    <section aria-label={side === "left" ? "Left" : "Right"} className="min-w-0">
      <div className={isFull ? "fixed inset-0 z-40 grid place-items-center bg-booth p-4" : ""}>
        <div
          className="relative w-full border border-rule"
          style={isFull ? { maxWidth: `min(100%, calc((100vh - 80px) * ${viewport.width / viewport.height}))` } : {}}
        >
          <Stage
            url={url}
            title={`${side === "left" ? "Left" : "Right"} page`}
            viewport={viewport}
            restart={restart}
            onReady={onReady}
            onFocusChange={onKeyboard}
          />
          {isCurtained ? (
            <div className="absolute inset-0 grid place-items-center bg-booth text-soft">Getting both ready …</div>
          ) : null}
        </div>
        {isFull ? (
          <button
            type="button"
            onClick={onFull}
            className="mt-2 flex items-center gap-2 border-0 bg-transparent text-ink"
          >
            <Kbd>{side === "left" ? "F" : "J"}</Kbd> back to both
          </button>
        ) : null}
      </div>
      <PaneControls {...props} />
    </section>
  );
}

function PaneControls({ side, works, onRestart, onFull, onToggleWorks }: StagePaneProps) {
  const isLeft = side === "left";
  const doesNot = (
    <button
      type="button"
      aria-pressed={!works}
      onClick={onToggleWorks}
      className={`flex items-center gap-2 rounded border px-2 py-0.5 ${works ? "border-transparent bg-transparent text-ink" : "border-broken bg-sheet font-semibold text-broken"}`}
    >
      <Kbd>{isLeft ? "Q" : "P"}</Kbd> {works ? "Doesn't work" : "✕ Doesn't work"}
    </button>
  );
  const quiet = "flex items-center gap-2 border-0 bg-transparent p-0 text-soft hover:text-ink";
  return (
    <div className={`mt-2 flex items-center justify-between gap-3 ${isLeft ? "" : "flex-row-reverse"}`}>
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
