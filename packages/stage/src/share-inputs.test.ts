import { SharedInput, StageWord } from "@tourney/core/stage";
import { describe, expect, it } from "vitest";
import { pageInStage, sharedStageDocument } from "./index.js";

describe("a stage of a comparison", () => {
  it("holds the page whole, and begins only when it is told to", async () => {
    const page = "<!doctype html><p>Locks</p>";
    const document = await sharedStageDocument(page);
    expect(pageInStage(document)).toBe(page);
    expect(document).not.toContain("<p>Locks</p>");
  });

  it("is believed only in the shape of an input", () => {
    const at = { x: 0.5, y: 0.5, target: { role: "button", name: "Plan" } };
    const click = { kind: "pointer", type: "click", button: 0, buttons: 0, ...at };
    expect(SharedInput.safeParse(click).success).toBe(true);
    for (const wrong of [
      { ...click, type: "load" },
      { ...click, x: Number.NaN },
      { ...click, target: { role: "button", name: "x".repeat(10_000) } },
      { kind: "value", value: "x".repeat(20_000), checked: null, ...at },
    ])
      expect(StageWord.safeParse({ tourney: "input", input: wrong }).success).toBe(false);
    expect(StageWord.safeParse({ tourney: "begin" }).success).toBe(false);
  });
});
