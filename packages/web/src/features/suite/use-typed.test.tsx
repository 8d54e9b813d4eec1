import { act, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useTyped } from "./use-typed.js";

interface BenchProps {
  value: string;
  onCommit: (text: string) => void;
}

function Bench({ value, onCommit }: BenchProps) {
  return <input aria-label="field" {...useTyped(value, onCommit)} />;
}

/** The field over a value that a commit changes at once, or that only the test changes. */
function show({ isDelayed = false } = {}) {
  const committed: string[] = [];
  const draw = (value: string) => (
    <Bench
      value={value}
      onCommit={(text) => {
        committed.push(text);
        if (!isDelayed) setOutside(text);
      }}
    />
  );
  const { rerender } = render(draw("start"));
  const setOutside = (value: string) => rerender(draw(value));
  return { committed, setOutside };
}
const field = () => screen.getByRole<HTMLInputElement>("textbox");
const type = (text: string) => fireEvent.change(field(), { target: { value: text } });
const pass = (ms: number) => {
  act(() => {
    vi.advanceTimersByTime(ms);
  });
};

describe("a field whose text is handed on when the typing lets up", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => vi.useRealTimers());

  it("hands a word on once, and at once when the field is left", () => {
    const { committed } = show();
    for (const text of ["s", "st", "sto"]) type(text);
    expect(committed).toEqual([]);
    pass(300);
    expect(committed).toEqual(["sto"]);
    type("storm");
    fireEvent.blur(field());
    expect(committed).toEqual(["sto", "storm"]);
    pass(1000);
    expect(committed).toEqual(["sto", "storm"]);
  });

  it("shows what is typed while what was handed on is on its way", () => {
    const { committed, setOutside } = show({ isDelayed: true });
    type("one");
    pass(300);
    expect(field().value).toBe("one");
    type("one two");
    setOutside("one");
    expect(field().value).toBe("one two");
    pass(300);
    expect(committed).toEqual(["one", "one two"]);
  });

  it("keeps a key that comes when a change was handed on and is not drawn yet", () => {
    const { committed, setOutside } = show({ isDelayed: true });
    type("o");
    // Outside of `act`, so that nothing is drawn.
    vi.advanceTimersByTime(300);
    expect(committed).toEqual(["o"]);
    type("on");
    setOutside("o");
    expect(field().value).toBe("on");
    pass(300);
    expect(committed).toEqual(["o", "on"]);
  });

  it("gives way to a change from outside, as by an undo", () => {
    const { committed, setOutside } = show();
    type("one");
    pass(300);
    setOutside("start");
    expect(field().value).toBe("start");
    pass(300);
    expect(committed).toEqual(["one"]);
  });

  it("hands nothing on when the text comes back to what it was", () => {
    const { committed } = show();
    type("x");
    type("start");
    pass(300);
    expect(committed).toEqual([]);
  });
});
