import { act, render } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { pageLine } from "./page-line.js";
import { useFollow, useIsCut } from "./use-follow.js";

/** A browser's side of the line, driven by hand. */
class FakeEvents extends EventTarget {
  static readonly CLOSED = 2;
  static opened: FakeEvents[] = [];
  readyState = 1;
  isClosed = false;
  constructor(readonly url: string) {
    super();
    FakeEvents.opened.push(this);
  }
  close(): void {
    this.isClosed = true;
  }
  send(event: string, data: unknown, lastEventId = ""): void {
    this.dispatchEvent(new MessageEvent(event, { data: JSON.stringify(data), lastEventId }));
  }
  break(readyState = 0): void {
    this.readyState = readyState;
    this.dispatchEvent(new Event("error"));
  }
}
const last = () => FakeEvents.opened.at(-1)!;
const pass = (ms: number): void => void act(() => vi.advanceTimersByTime(ms));

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("EventSource", FakeEvents);
  FakeEvents.opened = [];
});
afterEach(() => {
  vi.advanceTimersByTime(10_000);
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("the page's line to the server", () => {
  it("is one for all that is watched, opened again where that changes, from where it was", () => {
    const [runs, standings] = [vi.fn(), vi.fn()];
    const stop = pageLine.watch("run", "r1", runs);
    const stopStandings = pageLine.watch("standings", "e1", standings);
    pass(100);
    expect(FakeEvents.opened.map(({ url }) => url)).toEqual(["/api/events?run=r1&standings=e1"]);
    last().send("run:r1", { id: "r1" });
    last().send("run:r2", { id: "r2" });
    last().send("changed", ["cells"], "s.1.0");
    expect(runs.mock.calls).toEqual([[{ id: "r1" }]]);
    expect(standings).not.toHaveBeenCalled();
    stop();
    pass(100);
    expect(FakeEvents.opened[0]!.isClosed).toBe(true);
    expect(last().url).toBe("/api/events?standings=e1&since=s.1.0");
    stopStandings();
    pass(100);
    expect(FakeEvents.opened.every(({ isClosed }) => isClosed)).toBe(true);
  });

  it("says when it is cut for more than a moment, and is opened again where the browser gives it up", () => {
    const cut: boolean[] = [];
    function Screen() {
      cut.push(useIsCut());
      useFollow(() => undefined, { about: ["cells"], everyMs: 1000 });
      return null;
    }
    const { unmount } = render(<Screen />);
    pass(100);
    last().break();
    pass(1000);
    last().dispatchEvent(new Event("open"));
    pass(1000);
    expect(cut.at(-1)).toBe(false);
    last().break(FakeEvents.CLOSED);
    pass(2000);
    expect(cut.at(-1)).toBe(true);
    const before = FakeEvents.opened.length;
    pass(2000);
    expect(FakeEvents.opened).toHaveLength(before + 1);
    void act(() => last().dispatchEvent(new Event("open")));
    expect(cut.at(-1)).toBe(false);
    unmount();
  });
});

describe("what is shown", () => {
  function show(about: readonly ("cells" | "ballots")[]) {
    const ask = vi.fn();
    function Screen() {
      useFollow(ask, { about, everyMs: 1000 });
      return null;
    }
    const { unmount } = render(<Screen />);
    pass(100);
    return { ask, unmount };
  }

  it("is asked for anew when it has changed, however often at most so often, and the last change is in it", () => {
    const { ask, unmount } = show(["cells"]);
    last().send("changed", ["ballots"]);
    pass(5000);
    expect(ask).not.toHaveBeenCalled();
    for (let i = 0; i < 25; i++) {
      last().send("changed", ["cells", "ballots"]);
      pass(100);
    }
    expect(ask).toHaveBeenCalledTimes(3);
    pass(1000);
    expect(ask).toHaveBeenCalledTimes(4);
    pass(10_000);
    expect(ask).toHaveBeenCalledTimes(4);
    unmount();
  });

  it("gives its line back while nobody looks at the page, and is told then what it missed", () => {
    const { ask, unmount } = show(["ballots"]);
    last().send("changed", [], "s.1.4");
    const hidden = vi.spyOn(document, "hidden", "get").mockReturnValue(true);
    document.dispatchEvent(new Event("visibilitychange"));
    pass(4000);
    expect(last().isClosed).toBe(false);
    pass(2000);
    expect(last().isClosed).toBe(true);
    hidden.mockReturnValue(false);
    document.dispatchEvent(new Event("visibilitychange"));
    pass(100);
    expect(last().url).toBe("/api/events?&since=s.1.4");
    last().send("changed", ["ballots"], "s.1.5");
    pass(10);
    expect(ask).toHaveBeenCalledTimes(1);
    hidden.mockRestore();
    unmount();
  });
});
