import { fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Stage } from "./Stage.js";

/** Tells of a width at once, as a browser does after layout. */
class StubResizeObserver {
  constructor(private readonly tell: (entries: { contentRect: { width: number } }[]) => void) {}
  observe() {
    this.tell([{ contentRect: { width: 640 } }]);
  }
  disconnect() {
    // Nothing is kept.
  }
}

interface StubPort {
  onmessage: ((event: { data: unknown }) => void) | null;
  postMessage: (word: unknown) => void;
  close: () => void;
}

/** Delivers at once. What the app says is kept in `said`. */
class StubChannel {
  static last: StubChannel | null = null;
  readonly said: unknown[] = [];
  isClosed = false;
  readonly port1: StubPort = {
    onmessage: null,
    postMessage: (word) => this.said.push(word),
    close: () => (this.isClosed = true),
  };
  readonly port2 = { belongsTo: "the stage" };
  constructor() {
    StubChannel.last = this;
  }
  /** The stage says something. */
  tell(word: unknown) {
    if (!this.isClosed) this.port1.onmessage?.({ data: word });
  }
}

/** What the stage of the document that was loaded last holds. */
const channel = () => StubChannel.last!;

describe("a stage", () => {
  beforeEach(() => {
    vi.stubGlobal("ResizeObserver", StubResizeObserver);
    vi.stubGlobal("MessageChannel", StubChannel);
  });
  afterEach(() => vi.unstubAllGlobals());

  const show = () => {
    const [onEscape, onFocusChange] = [vi.fn(), vi.fn()];
    const view = { url: "about:blank", title: "Left page", viewport: { width: 1280, height: 800 }, restart: 0 };
    render(<Stage {...view} onEscape={onEscape} onFocusChange={onFocusChange} />);
    const frame = screen.getByTitle<HTMLIFrameElement>("Left page");
    const handed = vi.spyOn(frame.contentWindow!, "postMessage").mockImplementation(() => undefined);
    fireEvent.load(frame);
    return { frame, handed, onEscape, onFocusChange };
  };

  it("gives the keys back when its page tells of Escape", () => {
    const { frame, handed, onEscape, onFocusChange } = show();
    expect(handed.mock.calls).toEqual([["tourney:port", "*", [channel().port2]]]);
    frame.focus();
    channel().tell("escape");
    expect(onEscape).toHaveBeenCalledOnce();
    expect(onFocusChange).toHaveBeenLastCalledWith(false);
    expect(document.activeElement).not.toBe(frame);
  });

  it("listens to nothing but its channel, and to no other word there", () => {
    const listened = vi.spyOn(window, "addEventListener");
    const { frame, onEscape } = show();
    expect(listened.mock.calls.map(([type]) => type)).not.toContain("message");
    frame.focus();
    fireEvent(window, new MessageEvent("message", { source: frame.contentWindow, data: "escape" }));
    channel().tell("ballot");
    channel().tell({ type: "escape" });
    expect(onEscape).not.toHaveBeenCalled();
    // The app opens a new channel for each document, and no longer hears the one before.
    const before = channel();
    fireEvent.load(frame);
    before.tell("escape");
    expect(onEscape).not.toHaveBeenCalled();
  });

  it("asks a page that has loaded something new whether it is still there, and takes its word late, too", () => {
    vi.useFakeTimers();
    const onAway = vi.fn();
    const held = { hasBegun: true, isLoud: false, onReady: vi.fn(), onBegun: vi.fn(), onAway };
    render(<Stage url="about:blank" title="Right page" viewport={{ width: 9, height: 9 }} restart={0} held={held} />);
    const frame = screen.getByTitle<HTMLIFrameElement>("Right page");
    vi.spyOn(frame.contentWindow!, "postMessage").mockImplementation(() => undefined);
    fireEvent.load(frame);
    channel().tell("ready");
    expect(channel().said).toEqual(["quiet", "begin"]);
    fireEvent.load(frame);
    vi.advanceTimersByTime(5000);
    expect(onAway).not.toHaveBeenCalled();
    // The page called document.open() and still answers.
    fireEvent.load(frame);
    expect(channel().said).toEqual(["quiet", "begin", "ask"]);
    channel().tell("ready");
    vi.advanceTimersByTime(5000);
    expect(onAway).not.toHaveBeenCalled();
    // Gone, and back.
    fireEvent.load(frame);
    vi.advanceTimersByTime(5000);
    expect(onAway.mock.calls).toEqual([[true]]);
    channel().tell("ready");
    expect(onAway.mock.calls).toEqual([[true], [false]]);
    vi.useRealTimers();
  });

  it("gives the keys back when Escape still reaches the app, though the page has the focus", () => {
    const { frame, onEscape, onFocusChange } = show();
    fireEvent.keyDown(window, { key: "Escape" });
    expect(onEscape).not.toHaveBeenCalled();
    frame.focus();
    fireEvent.keyDown(window, { key: "1" });
    expect(onEscape).not.toHaveBeenCalled();
    fireEvent.keyDown(window, { key: "Escape" });
    expect(onEscape).toHaveBeenCalledOnce();
    expect(onFocusChange).toHaveBeenLastCalledWith(false);
  });
});
