import { PromptDefinition } from "@tourney/core/contract";
import { composeRequestText } from "@tourney/core/generation";
import { wordingOf } from "@tourney/core/suite";
import { describe, expect, it } from "vitest";
import { composeAnswer } from "./compose-answer.js";
import { loadExhibits } from "./exhibits.js";
import { readGivenFiles } from "./given-files.js";
import { MODELS } from "./models.js";

const WRECKS =
  'const WRECKS = [{ name: "Ada of the Voe", year: 1899, cause: "fog", cargo: "tea", place: "Voe", x: 1, y: 1 }];';
const prompt = (starterFiles: { path: string; text: string }[]) =>
  PromptDefinition.parse({
    ...{
      key: "wreck-log",
      title: "Wreck Log",
      kind: "app",
      summary: "Search.",
      motion: false,
      watchpoints: ["It works"],
    },
    text: "Build an app called Wreck Log for a gallery screen: search, sort and map the records of wrecks.",
    starterFiles,
  });
const answers = (starterFiles: { path: string; text: string }[]) =>
  MODELS.map((model) =>
    composeAnswer(
      { seed: 1, model, text: composeRequestText(wordingOf(prompt(starterFiles))), sample: 1 },
      loadExhibits(),
    ),
  );

describe("a made-up model that is given files", () => {
  it("reads them as a request gives them, whatever fences are in them", () => {
    const files = [
      { path: "wrecks.js", text: WRECKS },
      { path: "data/notes.md", text: "```\ncode\n```" },
    ];
    const given = readGivenFiles(composeRequestText(wordingOf(prompt(files))));
    expect(Object.fromEntries(given)).toEqual({ "wrecks.js": WRECKS, "data/notes.md": "```\ncode\n```" });
  });

  it("answers with what it was sent, and without it where it was sent nothing", () => {
    const withFiles = answers([{ path: "wrecks.js", text: WRECKS }]);
    const without = answers([]);
    expect(withFiles.filter((answer) => answer.includes("Ada of the Voe")).length).toBeGreaterThan(0);
    expect(without.some((answer) => answer.includes("Ada of the Voe"))).toBe(false);
    expect(without.filter((answer) => answer.includes("const WRECKS = [];")).length).toBe(
      withFiles.filter((answer) => answer.includes("Ada of the Voe")).length,
    );
  });
});
