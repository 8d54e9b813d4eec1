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
