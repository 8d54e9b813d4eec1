import type { EntryDetail } from "@tourney/core/contract";
import { Button, Toggle } from "../../ui/controls.js";

type Viewport = EntryDetail["prompt"]["viewport"];

/** Widths that a lead looks at besides the prompt's own: a tablet held upright, and a phone. */
const WIDTHS = [768, 390] as const;
/** A narrow window is as tall as it is on a phone, so that what is below the fold shows. */
const NARROW_RATIO = 844 / 390;

/** The viewport at another width; null is the prompt's own. */
export function sizeOf(viewport: Viewport, width: number | null): Viewport {
  if (width === null || width === viewport.width) return viewport;
  return { width, height: width <= 500 ? Math.round(width * NARROW_RATIO) : Math.round((width * 4) / 3) };
}

interface LiveToolsProps {
  entry: EntryDetail;
  isBlind: boolean;
  size: number | null;
  onSize: (size: number | null) => void;
  isLoud: boolean;
  onSound: () => void;
  onRestart: () => void;
  onFullView: () => void;
}

/** What can be done with the live page: start it afresh, another window size, the whole screen, a window of its own, a copy on disk. */
export function LiveTools({ entry, isBlind, size, onSize, isLoud, onSound, onRestart, onFullView }: LiveToolsProps) {
  const { width, height } = entry.prompt.viewport;
  const link =
    "inline-flex h-6 items-center rounded border border-rule bg-sheet px-2.5 text-[13px] text-ink no-underline hover:border-ink";
  return (
    <>
      <Button compact className="ml-2" onClick={onRestart}>
        Restart
      </Button>
      <Toggle pressed={isLoud} title={`Sound is ${isLoud ? "on" : "off"}; M switches it`} onClick={onSound}>
        Sound
      </Toggle>
      <span role="group" aria-label="Window size" className="ml-2 flex gap-1.5">
        <Toggle
          pressed={size === null}
          title={`The prompt's window, ${width} × ${height}`}
          onClick={() => onSize(null)}
          className="figures"
        >
          {width}
        </Toggle>
        {WIDTHS.filter((other) => other !== width).map((other) => (
          <Toggle key={other} pressed={size === other} onClick={() => onSize(other)} className="figures">
            {other}
          </Toggle>
        ))}
      </span>
      <Button compact className="ml-2" onClick={onFullView}>
        Full view
      </Button>
      {isBlind ? null : (
        <>
          <a href={entry.liveUrl!} target="_blank" rel="noreferrer" className={link}>
            Open alone
          </a>
          <a
            href={`/api/entries/${entry.id}/files.zip`}
            download
            title="As a zip that opens from disk"
            className={link}
          >
            Save
          </a>
        </>
      )}
    </>
  );
}
