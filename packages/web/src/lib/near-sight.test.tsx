import { act, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

const seen = new Map<Element, boolean>();
let tell: (isIntersecting: boolean, targets: readonly Element[]) => void;

/** Tells what the test says; what is watched stands in `seen`. */
class ToldObserver {
  constructor(callback: (entries: { isIntersecting: boolean; target: Element }[]) => void) {
    tell = (isIntersecting, targets) => callback(targets.map((target) => ({ isIntersecting, target })));
  }
  observe = (element: Element) => seen.set(element, false);
  unobserve = (element: Element) => seen.delete(element);
}

async function drawLines() {
  vi.stubGlobal("IntersectionObserver", ToldObserver);
  vi.resetModules();
  const { useNearSight } = await import("./near-sight.js");
  function Line({ name }: { name: string }) {
    const [isNear, ref] = useNearSight();
    return (
      <p ref={ref} data-testid={name}>
        {isNear ? name : null}
      </p>
    );
  }
  const { unmount } = render(["first", "second", "third"].map((name) => <Line key={name} {...{ name }} />));
  return { unmount, line: (name: string) => screen.getByTestId(name) };
}

describe("what is near sight", () => {
  afterEach(() => {
    vi.unstubAllGlobals();
    seen.clear();
  });

  it("is drawn when it comes near, stays drawn, and is not watched any more", async () => {
    const { line, unmount } = await drawLines();
    act(() => tell(false, [line("first"), line("second"), line("third")]));
    expect(document.body.textContent).toBe("");
    act(() => tell(true, [line("second")]));
    expect(document.body.textContent).toBe("second");
    expect([...seen.keys()]).toEqual([line("first"), line("third")]);
    act(() => tell(false, [line("second")]));
    expect(document.body.textContent).toBe("second");
    unmount();
    expect(seen.size).toBe(0);
  });

  it("is all of a page that is printed", async () => {
    await drawLines();
    act(() => void dispatchEvent(new Event("beforeprint")));
    expect(document.body.textContent).toBe("firstsecondthird");
  });

  it("is all where nothing tells", async () => {
    vi.stubGlobal("IntersectionObserver", undefined);
    vi.resetModules();
    const { useNearSight } = await import("./near-sight.js");
    const Line = () => <p ref={useNearSight()[1]}>{String(useNearSight()[0])}</p>;
    render(<Line />);
    expect(document.body.textContent).toBe("true");
  });
});
