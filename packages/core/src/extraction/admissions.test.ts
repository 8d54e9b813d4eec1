import { describe, expect, it } from "vitest";
import { findAdmissions } from "./admissions.js";

const PAGE = "```html\n<!doctype html><title>x</title><p>Nothing was omitted. TODO: a placeholder.</p>\n```";

describe("what an answer says that it left out", () => {
  it.each([
    "I left out the sound to keep the file small.",
    "The wreck's route is not implemented yet.",
    "Tides don't handle leap seconds.",
    "- Simplified: the moon moves in a circle.",
    "For brevity the timetable has three ferries.",
    "You can add more boats in the list at the top.",
    "The prices are hard-coded placeholders.",
    "In a real application you would load these from a server.",
  ])("is found: %s", (sentence) => {
    expect(findAdmissions(`Here is your page.\n\n${sentence} It works by keyboard.\n\n${PAGE}`)).toEqual([sentence]);
  });

  it.each([
    "Here is the complete page with everything that you asked for.",
    "The gates open and close with Space.",
    "It needs no libraries and works offline.",
    "I added sound, too.",
  ])("is not made up: %s", (sentence) => {
    expect(findAdmissions(`${sentence}\n${PAGE}\n${sentence}`)).toEqual([]);
  });

  it("is told once and in bounds, however long the answer is", () => {
    const long = `This was omitted ${"x".repeat(5000)}.\n`;
    const answer = long.repeat(50) + Array.from({ length: 40 }, (_, i) => `Part ${i} was skipped.`).join("\n");
    const found = findAdmissions(answer);
    expect(found).toHaveLength(12);
    expect(found.every((sentence) => sentence.length <= 300)).toBe(true);
    expect(new Set(found).size).toBe(12);
  });
});
