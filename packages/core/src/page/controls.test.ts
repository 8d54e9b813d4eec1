import { describe, expect, it } from "vitest";
import { describeControls, judgeControls } from "./controls.js";

const step = (control: string, effect: "changed" | "none" | "not_judged") => ({
  input: { atMs: 1, click: { x: 1, y: 1 } },
  control,
  effect,
});

describe("the controls of a page", () => {
  const names = ["button “Go”", "button “Stop”", "slider “Speed”", "key ArrowLeft"];
  it("answer when one of the inputs meant for them did something", () => {
    const steps = [step("button “Go”", "none"), step("button “Go”", "changed"), step("button “Stop”", "none")];
    const key = { input: { atMs: 1, key: "ArrowLeft", holdMs: 0 }, control: null, effect: "changed" as const };
    const judged = judgeControls(names, [...steps, key]);
    expect(judged.map(({ state }) => state)).toEqual(["answers", "dead", "not_tried", "answers"]);
    expect(describeControls(judged)).toBe("2 of 4 answer, 1 not tried");
  });
  it("answer to the text that is typed when they have the focus", () => {
    const typed = { input: { atMs: 2, type: "storm" }, control: null, effect: "changed" as const };
    const judged = judgeControls(["searchbox “Search”"], [step("searchbox “Search”", "not_judged"), typed]);
    expect(judged[0]!.state).toBe("answers");
  });
  it("are not counted where there are none", () => {
    expect(describeControls([])).toBeNull();
    expect(describeControls([{ control: "key a", state: "answers" }])).toBe("1 of 1 answer");
  });
});
