import { STAGE_SANDBOX } from "@tourney/core/stage";
import { type RefObject, useEffect, useRef, useState } from "react";
import { type InputSharing, useSharedInputs } from "./use-shared-inputs.js";
import { type StageChannel, useStageChannel } from "./use-stage-channel.js";

/** A stage that waits until it is told to begin, for two that begin together. */
export interface HeldStage {
  hasBegun: boolean;
  isLoud: boolean;
  /** The stage waits to be begun. */
  onReady: () => void;
  /** The page is there. */
  onBegun?: () => void;
  /** The page has gone somewhere else, or is back from there. */
  onAway: (isAway: boolean) => void;
}

interface StageProps {
  /** An address on the exhibit origin. */
  url: string;
  /** What assistive technology calls the frame; in the booth it names a side and nothing else. */
  title: string;
  viewport: { width: number; height: number };
  /** Changes to start the page afresh. */
  restart: number;
  /** In the booth; without it the page begins by itself. */
  held?: HeldStage;
  /** In a comparison: what is done here is done in the other stages as well. */
  sharing?: InputSharing;
  /** The page's Escape key: the keyboard goes back to the app. */
  onEscape?: () => void;
  onFocusChange?: (hasKeyboard: boolean) => void;
}

/**
 * An output, live: a frame on another origin with no rights but scripts, forms and the pointer, laid out at the prompt's
 * viewport and scaled to fit. Nothing is accepted from it but word that it is ready, once and when it is asked, and that Escape was
 * pressed, while it has the keyboard: by a channel that its script alone holds, and not its page.
 */
export function Stage({ url, title, viewport, restart, held, sharing, onEscape, onFocusChange }: StageProps) {
  const box = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLIFrameElement>(null);
  const [width, setWidth] = useState(0);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);
  const channel = useStageChannel(frame);
  useKeyboardOwner({ frame, channel, onEscape, onFocusChange });
  useAnswering({ frame, channel }, held !== undefined, () => onFocusChange?.(false));
  useSharedInputs({ frame, channel }, sharing);
  const onLoad = useHeldStage(channel, held, `${url} ${restart}`);

  return (
    <div
      ref={box}
      className="relative w-full overflow-hidden bg-sheet"
      style={{ aspectRatio: `${viewport.width} / ${viewport.height}` }}
    >
      {width > 0 ? (
        <iframe
          key={`${url} ${restart}`}
          ref={frame}
          src={url}
          title={title}
          sandbox={STAGE_SANDBOX}
          allow=""
          referrerPolicy="no-referrer"
          onLoad={onLoad}
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

interface KeyboardOwner {
  frame: RefObject<HTMLIFrameElement | null>;
  channel: StageChannel;
  onEscape: (() => void) | undefined;
  onFocusChange: ((hasKeyboard: boolean) => void) | undefined;
}

/** A frame that was entered by Tab gives the keyboard back as if it had taken it unasked: not within this time. */
const TAB_MS = 500;

/** Knows whether the frame has the keyboard, and takes it back on Escape. */
function useKeyboardOwner({ frame, channel, onEscape, onFocusChange }: KeyboardOwner): void {
  useEffect(() => {
    let tabbedAt = -Infinity;
    const hasFocus = () => frame.current !== null && document.activeElement === frame.current;
    const takeKeysBack = () => {
      frame.current?.blur();
      window.focus();
      onFocusChange?.(false);
      onEscape?.();
    };
    const silence = channel.listen((word) => {
      if (word === "escape" && hasFocus() && performance.now() - tabbedAt > TAB_MS) takeKeysBack();
    });
    // A key struck right after a click into the frame may still arrive here, and the frame will never tell of it.
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key === "Tab") tabbedAt = performance.now();
      if (event.key === "Escape" && hasFocus()) takeKeysBack();
    };
    // The app's window loses the focus when a frame takes it; which frame it was is known a moment later.
    const onBlur = () => requestAnimationFrame(() => onFocusChange?.(hasFocus()));
    const onFocus = () => onFocusChange?.(false);
    window.addEventListener("keydown", onKeyDown);
    window.addEventListener("blur", onBlur);
    window.addEventListener("focus", onFocus);
    return () => {
      silence();
      window.removeEventListener("keydown", onKeyDown);
      window.removeEventListener("blur", onBlur);
      window.removeEventListener("focus", onFocus);
    };
  }, [frame, channel, onEscape, onFocusChange]);
}

/** A stage that has the keyboard is asked this often whether it still answers … */
const ASK_MS = 250;
/** … and loses the keyboard when it does not for so long: from a page that hangs no Escape comes. */
const SILENT_MS = 700;

/** Takes the keyboard back from a held stage that does not answer any more. */
function useAnswering(
  { frame, channel }: Pick<KeyboardOwner, "frame" | "channel">,
  isOn: boolean,
  onSilent: () => void,
): void {
  const latest = useRef(onSilent);
  useEffect(() => {
    latest.current = onSilent;
  });
  useEffect(() => {
    if (!isOn) return;
    let askedAt: number | null = null;
    const ask = () => {
      // Out of sight everything is slow.
      if (frame.current === null || document.activeElement !== frame.current || document.hidden) askedAt = null;
      else if (askedAt === null) {
        askedAt = performance.now();
        channel.say("ask");
      } else if (performance.now() - askedAt > SILENT_MS) {
        askedAt = null;
        frame.current.blur();
        window.focus();
        latest.current();
      }
    };
    const silence = channel.listen((word) => {
      if (word === "ready") askedAt = null;
    });
    const timer = setInterval(ask, ASK_MS);
    return () => {
      clearInterval(timer);
      silence();
    };
  }, [frame, channel, isOn]);
}

/** A stage that has loaded something new and does not answer for so long shows something else. */
const AWAY_MS = 1500;

/**
 * Lets a held stage begin when it is told to, once.
 *
 * @param showing changes with every document that the frame is given.
 * @returns what to call on each load of the frame: the first is of the stage itself, the second of the page in it. At each further one the app asks the
 * stage for an answer: a page that called document.open() or reloaded gives one, a page that went elsewhere does not.
 */
function useHeldStage(channel: StageChannel, held: HeldStage | undefined, showing: string) {
  const latest = useRef(held);
  const state = useRef({ showing: "", isReady: false, hasBegun: false, isAway: false, loads: 0 });
  const leaving = useRef<ReturnType<typeof setTimeout>>(undefined);
  const fresh = () => {
    if (state.current.showing !== showing) {
      clearTimeout(leaving.current);
      state.current = { showing, isReady: false, hasBegun: false, isAway: false, loads: 0 };
    }
    return state.current;
  };
  const begin = () => {
    channel.say(latest.current?.isLoud === true ? "loud" : "quiet");
    channel.say("begin");
  };
  const beginIfTold = () => {
    const now = fresh();
    if (!now.isReady || now.hasBegun || latest.current?.hasBegun !== true) return;
    now.hasBegun = true;
    begin();
  };
  const setAway = (isAway: boolean) => {
    const now = fresh();
    clearTimeout(leaving.current);
    if (now.isAway === isAway) return;
    now.isAway = isAway;
    latest.current?.onAway(isAway);
  };
  useEffect(() => {
    latest.current = held;
    beginIfTold();
  });
  useEffect(() => {
    return channel.listen((word) => {
      const now = fresh();
      if (word !== "ready") return;
      setAway(false);
      if (now.isReady) return;
      now.isReady = true;
      latest.current?.onReady();
      beginIfTold();
    });
  });
  useEffect(() => () => clearTimeout(leaving.current), []);
  const isLoud = held?.isLoud;
  useEffect(() => {
    if (isLoud !== undefined) channel.say(isLoud ? "loud" : "quiet");
  }, [channel, isLoud]);
  return () => {
    const now = fresh();
    now.loads++;
    channel.open();
    if (now.loads === 2) latest.current?.onBegun?.();
    if (now.loads <= 2) return;
    clearTimeout(leaving.current);
    leaving.current = setTimeout(() => setAway(true), AWAY_MS);
    // A page that went to its own address waits to be begun once more; one that has begun takes no notice.
    begin();
    channel.say("ask");
  };
}
