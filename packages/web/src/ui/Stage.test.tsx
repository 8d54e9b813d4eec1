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

describe("a stage", () => {
  beforeEach(() => vi.stubGlobal("ResizeObserver", StubResizeObserver));
  afterEach(() => vi.unstubAllGlobals());

  const show = () => {
    const [onEscape, onFocusChange] = [vi.fn(), vi.fn()];
    const view = { url: "about:blank", title: "Left page", viewport: { width: 1280, height: 800 }, restart: 0 };
    render(<Stage {...view} onEscape={onEscape} onFocusChange={onFocusChange} />);
    const frame = screen.getByTitle<HTMLIFrameElement>("Left page");
    return { frame, onEscape, onFocusChange };
  };
  const post = (source: MessageEventSource | null, data: unknown) =>
    fireEvent(window, new MessageEvent("message", { source, data }));

  it("gives the keys back when its page tells of Escape", () => {
    const { frame, onEscape, onFocusChange } = show();
    frame.focus();
    post(frame.contentWindow, "tourney:escape");
    expect(onEscape).toHaveBeenCalledOnce();
    expect(onFocusChange).toHaveBeenLastCalledWith(false);
    expect(document.activeElement).not.toBe(frame);
  });

  it("believes no other window and no other word", () => {
    const { frame, onEscape } = show();
    post(window, "tourney:escape");
    post(frame.contentWindow, "tourney:ballot");
    post(frame.contentWindow, { type: "tourney:escape" });
    expect(onEscape).not.toHaveBeenCalled();
  });

  it("asks a page that has loaded something new whether it is still there, and takes its word late, too", () => {
    vi.useFakeTimers();
    const onAway = vi.fn();
    const held = { hasBegun: true, isLoud: false, onReady: vi.fn(), onBegun: vi.fn(), onAway };
    render(<Stage url="about:blank" title="Right page" viewport={{ width: 9, height: 9 }} restart={0} held={held} />);
    const frame = screen.getByTitle<HTMLIFrameElement>("Right page");
    const said = vi.spyOn(frame.contentWindow!, "postMessage");
    post(frame.contentWindow, "tourney:ready");
    fireEvent.load(frame);
    fireEvent.load(frame);
    vi.advanceTimersByTime(5000);
    expect(onAway).not.toHaveBeenCalled();
    // The page called document.open() and still answers.
    said.mockClear();
    fireEvent.load(frame);
    expect(said.mock.calls.map((call) => call[0] as string)).toEqual(["tourney:quiet", "tourney:begin", "tourney:ask"]);
    post(frame.contentWindow, "tourney:ready");
    vi.advanceTimersByTime(5000);
    expect(onAway).not.toHaveBeenCalled();
    // Gone, and back.
    fireEvent.load(frame);
    vi.advanceTimersByTime(5000);
    expect(onAway.mock.calls).toEqual([[true]]);
    post(frame.contentWindow, "tourney:ready");
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
