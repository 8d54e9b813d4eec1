import { describe, expect, it } from "vitest";
import { WALL } from "../../../test-support/fixtures.js";
import { asItem, findItems, listItems, markWords } from "./find-items.js";
import { listKeys } from "./screen-keys.js";

describe("the palette", () => {
  const items = listItems(WALL);
  const labels = (typed: string, most = 20) => findItems(items, typed, most).map(({ label }) => label);

  it("has the screens before anything is typed, with and without a wall", () => {
    expect(labels("", 3)).toEqual(["Suite", "Entrants", "Runs"]);
    expect(findItems(listItems(undefined), "wall", 5).map(({ to }) => to)).toEqual(["/wall"]);
  });

  it("finds an entry by the beginnings of its prompt's and its entrant's words", () => {
    const [prompt, entrant] = [WALL.prompts[0]!.title, WALL.entrants[0]!.name];
    const typed = `${entrant.slice(0, 3)} ${prompt.slice(0, 3)}`.toLowerCase();
    expect(labels(typed)).toContain(`${prompt}, ${entrant}`);
    expect(labels("nothing-like-this")).toEqual([]);
  });

  it("puts first what begins with what was typed, and no more than are wanted", () => {
    expect(labels("ju")[0]).toMatch(/^Judge/);
    expect(labels("", 2)).toHaveLength(2);
  });
});

describe("a text that was found", () => {
  const hit = {
    sort: "note",
    title: "Quay, a voter",
    excerpt: " It  leans\n",
    promptKey: "quay",
    entrantId: null,
  } as const;

  it("leads to its entry, to both entries of a bout, to its prompt, or to the entrants", () => {
    expect(asItem({ ...hit, entryIds: ["a"] })).toMatchObject({ to: "/entries/a", excerpt: "It leans" });
    expect(asItem({ ...hit, entryIds: ["a", "b"] }).to).toBe("/compare?entries=a,b");
    expect(asItem({ ...hit, sort: "prompt", entryIds: [] }).to).toBe("/suite?prompt=quay");
    expect(asItem({ ...hit, sort: "entrant", entryIds: [], promptKey: null, entrantId: "n" }).to).toBe("/entrants");
  });

  it("has the words apart, whatever signs they stand between, and loses nothing", () => {
    expect(markWords("The gull(gulls) seagull", ["gull"])).toEqual([
      { text: "The ", isFound: false },
      { text: "gull", isFound: true },
      { text: "(", isFound: false },
      { text: "gull", isFound: true },
      { text: "s) seagull", isFound: false },
    ]);
    expect(markWords("as it is", [])).toEqual([{ text: "as it is", isFound: false }]);
  });
});

describe("the keys of a screen", () => {
  it("are its own first, then those that hold everywhere", () => {
    expect(listKeys("/compare").map(({ title }) => title)).toEqual(["Compare", "Everywhere"]);
    expect(listKeys("/entries/1").map(({ title }) => title)).toEqual(["Entry and score sheet", "Everywhere"]);
    expect(listKeys("/runs").map(({ title }) => title)).toEqual(["Everywhere"]);
  });
});
