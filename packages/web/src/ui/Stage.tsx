import { STAGE_SANDBOX } from "@tourney/core/stage";
import { useEffect, useRef, useState } from "react";

interface StageProps {
  /** An address on the exhibit origin. */
  url: string;
  /** What assistive technology calls the frame; in the booth it names a side and nothing else. */
  title: string;
  viewport: { width: number; height: number };
  /** Changes to start the page afresh. */
  restart: number;
  onReady?: () => void;
  /** The page's Escape key: the keyboard goes back to the app. */
  onEscape?: () => void;
  onFocusChange?: (hasKeyboard: boolean) => void;
}

/**
 * An output, live: a frame on another origin with no rights but scripts, forms and the pointer, laid out at the prompt's
 * viewport and scaled to fit. Nothing is accepted from it but word that Escape was pressed.
 */
export function Stage({ url, title, viewport, restart, onReady, onEscape, onFocusChange }: StageProps) {
  const box = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLIFrameElement>(null);
  const [width, setWidth] = useState(0);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const takeKeysBack = () => {
      frame.current?.blur();
      window.focus();
      onFocusChange?.(false);
      onEscape?.();
    };
    const onMessage = (event: MessageEvent) => {
      if (event.source === frame.current?.contentWindow && event.data === "tourney:escape") takeKeysBack();
    };
    // A key struck right after a click into the frame may still arrive here, and the frame will never tell of it.
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key === "Escape" && frame.current !== null && document.activeElement === frame.current) takeKeysBack();
    };
    // The app's window loses the focus when a frame takes it; which frame it was is known a moment later.
    const onBlur = () => requestAnimationFrame(() => onFocusChange?.(document.activeElement === frame.current));
    const onFocus = () => onFocusChange?.(false);
    window.addEventListener("message", onMessage);
    window.addEventListener("keydown", onKeyDown);
    window.addEventListener("blur", onBlur);
    window.addEventListener("focus", onFocus);
    return () => {
      window.removeEventListener("message", onMessage);
      window.removeEventListener("keydown", onKeyDown);
      window.removeEventListener("blur", onBlur);
      window.removeEventListener("focus", onFocus);
    };
  }, [onEscape, onFocusChange]);

  return (
    <div
      ref={box}
      className="relative w-full overflow-hidden bg-sheet"
      style={{ aspectRatio: `${viewport.width} / ${viewport.height}` }}
    >
      {width > 0 ? (
        <iframe
          key={restart}
          ref={frame}
          src={url}
          title={title}
          sandbox={STAGE_SANDBOX}
          allow=""
          referrerPolicy="no-referrer"
          onLoad={onReady}
          className="absolute top-0 left-0 border-0"
          style={{
            width: viewport.width,
            height: viewport.height,
            transform: `scale(${width / viewport.width})`,
            transformOrigin: "0 0",
          }}
        />
      ) : null}
    </div>
  );
}
